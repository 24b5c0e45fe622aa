/* Made by scripts/document-types.mjs from docs/declarations.json; not edited by hand. */
import type { PartDeclaration } from "../types";
import type { Duck, GameTest, Part, PlacedHit, PlaysBed, PlaysGroup, TryOut } from "./tryout";

export const TRYOUT_KINDS = {
  "tryout": {
    "help": "A try-out, of ``length_s`` seconds or beats.",
    "parameters": [
      {
        "name": "tempo_bpm",
        "label": "Tempo",
        "unit": "bpm",
        "minimum": 20,
        "maximum": 400,
        "default": 120,
        "scale": "linear",
        "step": 1,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "beats_a_bar",
        "label": "Beats a bar",
        "unit": "",
        "minimum": 1,
        "maximum": 16,
        "default": 4,
        "scale": "linear",
        "step": 1,
        "whole": true,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "swing",
        "label": "Swing",
        "unit": "percent",
        "minimum": 0.5,
        "maximum": 0.75,
        "default": 0.5,
        "scale": "linear",
        "step": 0.01,
        "whole": false,
        "help": "Where the second of two steps lies between the beats around them; 50 %: straight.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "swing_beats",
        "label": "Swung step",
        "unit": "beat",
        "minimum": 0.125,
        "maximum": 0.5,
        "default": 0.25,
        "scale": "linear",
        "step": 0.01,
        "whole": false,
        "help": "1/16 of a bar of four: 0.25.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "length_s",
        "label": "Length",
        "unit": "s",
        "minimum": 0.1,
        "maximum": 120,
        "default": 8,
        "scale": "time",
        "step": 0.1,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "seed",
        "label": "Seed",
        "unit": "",
        "minimum": 0,
        "maximum": 1000000,
        "default": 1,
        "scale": "linear",
        "step": 1,
        "whole": true,
        "help": "",
        "followed": false,
        "octaves": false
      }
    ],
    "choices": [
      {
        "name": "beat_value",
        "label": "Beat value",
        "type": "choice",
        "values": [
          2,
          4,
          8,
          16
        ]
      },
      {
        "name": "loop",
        "label": "Loop",
        "type": "switch"
      }
    ]
  },
  "part": {
    "help": "A lane: what it plays, when, and how it goes into the mix.",
    "parameters": [
      {
        "name": "level_db",
        "label": "Level",
        "unit": "dB",
        "minimum": -72,
        "maximum": 24,
        "default": 0,
        "scale": "linear",
        "step": 0.5,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "pan",
        "label": "Pan",
        "unit": "percent",
        "minimum": -1,
        "maximum": 1,
        "default": 0,
        "scale": "linear",
        "step": 0.05,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "offset_s",
        "label": "Start offset",
        "unit": "s",
        "minimum": -0.5,
        "maximum": 0.5,
        "default": 0,
        "scale": "linear",
        "step": 0.001,
        "whole": false,
        "help": "All hits of the part are this much later; below 0 earlier.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "attack_s",
        "label": "Attack",
        "unit": "s",
        "minimum": 0,
        "maximum": 0.5,
        "default": 0,
        "scale": "time",
        "step": 0.001,
        "whole": false,
        "help": "Each hit rises in so much time.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "low_cut_hz",
        "label": "Low cut",
        "unit": "Hz",
        "minimum": 20,
        "maximum": 4000,
        "default": 20,
        "scale": "log",
        "step": 0.01,
        "whole": false,
        "help": "20 Hz: off.",
        "followed": false,
        "octaves": true
      },
      {
        "name": "high_cut_hz",
        "label": "High cut",
        "unit": "Hz",
        "minimum": 200,
        "maximum": 20000,
        "default": 20000,
        "scale": "log",
        "step": 0.01,
        "whole": false,
        "help": "20 kHz: off.",
        "followed": false,
        "octaves": true
      },
      {
        "name": "choke",
        "label": "Choke group",
        "unit": "",
        "minimum": 0,
        "maximum": 8,
        "default": 0,
        "scale": "linear",
        "step": 1,
        "whole": true,
        "help": "A hit ends those of other hits of its group; 0: none.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "fade_in_s",
        "label": "Fade in",
        "unit": "s",
        "minimum": 0,
        "maximum": 60,
        "default": 0,
        "scale": "time",
        "step": 0.01,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "fade_out_s",
        "label": "Fade out",
        "unit": "s",
        "minimum": 0,
        "maximum": 60,
        "default": 0,
        "scale": "time",
        "step": 0.01,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      }
    ],
    "choices": [
      {
        "name": "mute",
        "label": "Mute",
        "type": "switch"
      },
      {
        "name": "solo",
        "label": "Solo",
        "type": "switch"
      },
      {
        "name": "invert",
        "label": "Invert polarity",
        "type": "switch"
      }
    ]
  },
  "hit": {
    "help": "One hit of a part; its first note and those that sound with it are a chord.",
    "parameters": [
      {
        "name": "at_s",
        "label": "At",
        "unit": "s",
        "minimum": 0,
        "maximum": 120,
        "default": 0,
        "scale": "time",
        "step": 0.01,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "velocity",
        "label": "Velocity",
        "unit": "",
        "minimum": 1,
        "maximum": 127,
        "default": 100,
        "scale": "linear",
        "step": 1,
        "whole": true,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "chance",
        "label": "Chance",
        "unit": "percent",
        "minimum": 0,
        "maximum": 1,
        "default": 1,
        "scale": "linear",
        "step": 0.05,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      }
    ],
    "choices": []
  },
  "duck": {
    "help": "One part pulled down by each hit of another.",
    "parameters": [
      {
        "name": "amount_db",
        "label": "Gain reduction",
        "unit": "dB",
        "minimum": 0,
        "maximum": 60,
        "default": 9,
        "scale": "linear",
        "step": 0.5,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "attack_s",
        "label": "Attack",
        "unit": "s",
        "minimum": 0,
        "maximum": 1,
        "default": 0.002,
        "scale": "time",
        "step": 0.001,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "hold_s",
        "label": "Hold",
        "unit": "s",
        "minimum": 0,
        "maximum": 2,
        "default": 0.04,
        "scale": "time",
        "step": 0.005,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "release_s",
        "label": "Release",
        "unit": "s",
        "minimum": 0.001,
        "maximum": 4,
        "default": 0.12,
        "scale": "time",
        "step": 0.005,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      }
    ],
    "choices": []
  },
  "game": {
    "help": "How a game triggers a variation group: when, which one, at what pitch, level and distance.",
    "parameters": [
      {
        "name": "every_from_s",
        "label": "Every, from",
        "unit": "s",
        "minimum": 0.03,
        "maximum": 20,
        "default": 0.2,
        "scale": "time",
        "step": 0.01,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "every_to_s",
        "label": "Every, to",
        "unit": "s",
        "minimum": 0.03,
        "maximum": 20,
        "default": 0.4,
        "scale": "time",
        "step": 0.01,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "pitch_semitones",
        "label": "Pitch spread",
        "unit": "st",
        "minimum": 0,
        "maximum": 12,
        "default": 0,
        "scale": "linear",
        "step": 0.1,
        "whole": false,
        "help": "Up and down, evenly.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "level_db",
        "label": "Level spread",
        "unit": "dB",
        "minimum": 0,
        "maximum": 24,
        "default": 0,
        "scale": "linear",
        "step": 0.5,
        "whole": false,
        "help": "Down from full, evenly.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "distance_m",
        "label": "Distance",
        "unit": "m",
        "minimum": 1,
        "maximum": 200,
        "default": 1,
        "scale": "log",
        "step": 1,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "apart",
        "label": "Wanted distance",
        "unit": "",
        "minimum": 0,
        "maximum": 3,
        "default": 0.5,
        "scale": "linear",
        "step": 0.05,
        "whole": false,
        "help": "Of the features of neighbours.",
        "followed": false,
        "octaves": false
      }
    ],
    "choices": []
  },
  "sound": {
    "help": "A sound: a fixed revision, or its draft as it is now.",
    "parameters": [],
    "choices": []
  },
  "sample": {
    "help": "A sample of a library.",
    "parameters": [],
    "choices": []
  },
  "group": {
    "help": "Variations of which each hit plays one.",
    "parameters": [
      {
        "name": "avoid",
        "label": "Not one of the last",
        "unit": "",
        "minimum": 1,
        "maximum": 32,
        "default": 1,
        "scale": "linear",
        "step": 1,
        "whole": true,
        "help": "Only without repeats.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "seed",
        "label": "Seed",
        "unit": "",
        "minimum": 0,
        "maximum": 1000000,
        "default": 1,
        "scale": "linear",
        "step": 1,
        "whole": true,
        "help": "",
        "followed": false,
        "octaves": false
      }
    ],
    "choices": [
      {
        "name": "choice",
        "label": "Choice",
        "type": "choice",
        "values": [
          "in_turn",
          "random",
          "no_repeat",
          "velocity"
        ]
      }
    ]
  },
  "bed": {
    "help": "A loop or an ambience that lies under all else from the start.",
    "parameters": [
      {
        "name": "tempo_bpm",
        "label": "Own tempo",
        "unit": "bpm",
        "minimum": 0,
        "maximum": 400,
        "default": 0,
        "scale": "linear",
        "step": 0.5,
        "whole": false,
        "help": "0: it has none, and is played as it is.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "first_beat_s",
        "label": "First beat",
        "unit": "s",
        "minimum": 0,
        "maximum": 60,
        "default": 0,
        "scale": "time",
        "step": 0.001,
        "whole": false,
        "help": "",
        "followed": false,
        "octaves": false
      }
    ],
    "choices": [
      {
        "name": "follow",
        "label": "Follows the tempo",
        "type": "switch"
      },
      {
        "name": "loop",
        "label": "Loop",
        "type": "switch"
      }
    ]
  }
} as Record<
  "tryout" | "part" | "hit" | "duck" | "game" | "sound" | "sample" | "group" | "bed",
  PartDeclaration
>;

export const TRYOUT_DEFAULTS: {
  tryout: Omit<TryOut, "name">;
  part: Omit<Part, "id" | "name" | "plays">;
  hit: Omit<PlacedHit, "at_s">;
  duck: Omit<Duck, "part" | "by">;
  game: Omit<GameTest, "part">;
  group: Omit<PlaysGroup, "samples">;
  bed: Omit<PlaysBed, "sample">;
} = {
  "tryout": {
    "schema_version": 1,
    "tempo_bpm": 120,
    "beats_a_bar": 4,
    "beat_value": 4,
    "swing": 0.5,
    "swing_beats": 0.25,
    "length_s": 8,
    "loop": true,
    "seed": 1,
    "parts": [],
    "ducks": [],
    "game": null
  },
  "part": {
    "hits": [],
    "level_db": 0,
    "pan": 0,
    "offset_s": 0,
    "attack_s": 0,
    "low_cut_hz": 20,
    "high_cut_hz": 20000,
    "mute": false,
    "solo": false,
    "invert": false,
    "key": null,
    "choke": 0,
    "fade_in_s": 0,
    "fade_out_s": 0
  },
  "hit": {
    "notes": [],
    "velocity": 100,
    "hold_s": null,
    "chance": 1
  },
  "duck": {
    "amount_db": 9,
    "attack_s": 0.002,
    "hold_s": 0.04,
    "release_s": 0.12
  },
  "game": {
    "every_from_s": 0.2,
    "every_to_s": 0.4,
    "pitch_semitones": 0,
    "level_db": 0,
    "distance_m": 1,
    "apart": 0.5,
    "bed": null
  },
  "group": {
    "kind": "group",
    "choice": "no_repeat",
    "avoid": 1,
    "seed": 1
  },
  "bed": {
    "kind": "bed",
    "tempo_bpm": 0,
    "first_beat_s": 0,
    "follow": true,
    "loop": true
  }
};
