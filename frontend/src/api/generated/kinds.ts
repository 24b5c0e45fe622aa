/* Made by scripts/document-types.mjs from docs/declarations.json; not edited by hand. */
import type { Layer, Mover, Processor, Sound, Source } from "../types";

type Without<Part, Names extends string> = Part extends unknown ? Omit<Part, Names> : never;
type Defaults<Part extends { kind: string }, Names extends string> = {
  [Kind in Part["kind"]]: Without<Extract<Part, { kind: Kind }>, Names>;
};
interface ProcessorName {
  name: string;
  group: string;
  /** Other words that people search for. */
  words: string;
}

export const PROCESSOR_KINDS: Record<Processor["kind"], ProcessorName> = {
  "equaliser": {
    "name": "Equaliser",
    "group": "EQ and filters",
    "words": "eq bands bell shelf cut notch tone"
  },
  "filter": {
    "name": "Filter",
    "group": "EQ and filters",
    "words": "low-pass high-pass band-pass notch resonance cutoff"
  },
  "tilt": {
    "name": "Tilt",
    "group": "EQ and filters",
    "words": "tone control brighter darker shelf"
  },
  "formant": {
    "name": "Formant filter",
    "group": "EQ and filters",
    "words": "vowel voice throat"
  },
  "comb": {
    "name": "Comb filter",
    "group": "EQ and filters",
    "words": "tuned delay feedback"
  },
  "resonators": {
    "name": "Resonators",
    "group": "EQ and filters",
    "words": "strings chord tuned ring"
  },
  "drive": {
    "name": "Drive",
    "group": "Distortion and shift",
    "words": "distortion saturation tube clip fold rectify waveshaper overdrive"
  },
  "reducer": {
    "name": "Bit and rate reduction",
    "group": "Distortion and shift",
    "words": "bitcrusher reducer lo-fi decimate downsample"
  },
  "shifter": {
    "name": "Frequency shifter",
    "group": "Distortion and shift",
    "words": "ring modulator modulation"
  },
  "compressor": {
    "name": "Compressor",
    "group": "Dynamics and level",
    "words": "dynamics duck sidechain squeeze"
  },
  "multiband": {
    "name": "Multiband",
    "group": "Dynamics and level",
    "words": "compressor three bands upward downward"
  },
  "transient": {
    "name": "Transient shaper",
    "group": "Dynamics and level",
    "words": "attack sustain punch"
  },
  "gate": {
    "name": "Gate",
    "group": "Dynamics and level",
    "words": "noise expander"
  },
  "gain": {
    "name": "Gain",
    "group": "Dynamics and level",
    "words": "volume level pan polarity invert phase"
  },
  "fade": {
    "name": "Fade",
    "group": "Dynamics and level",
    "words": "in out length"
  },
  "ceiling": {
    "name": "Limiter",
    "group": "Dynamics and level",
    "words": "ceiling true peak brickwall"
  },
  "chorus": {
    "name": "Chorus",
    "group": "Modulation and delay",
    "words": "ensemble detune"
  },
  "flanger": {
    "name": "Flanger",
    "group": "Modulation and delay",
    "words": "jet sweep"
  },
  "phaser": {
    "name": "Phaser",
    "group": "Modulation and delay",
    "words": "all-pass notches"
  },
  "vibrato": {
    "name": "Vibrato",
    "group": "Modulation and delay",
    "words": "pitch modulation"
  },
  "delay": {
    "name": "Delay",
    "group": "Modulation and delay",
    "words": "echo beats dotted ping-pong"
  },
  "pitch_delay": {
    "name": "Pitch delay",
    "group": "Modulation and delay",
    "words": "echo climbing shift"
  },
  "room": {
    "name": "Reverb",
    "group": "Space and stereo",
    "words": "room hall tail"
  },
  "shimmer": {
    "name": "Shimmer",
    "group": "Space and stereo",
    "words": "reverb octave tail"
  },
  "convolution": {
    "name": "Convolution",
    "group": "Space and stereo",
    "words": "impulse body box spring plate speaker reverb"
  },
  "blur": {
    "name": "Spectral blur",
    "group": "Space and stereo",
    "words": "haze spectrum cloud freeze spread"
  },
  "width": {
    "name": "Width",
    "group": "Space and stereo",
    "words": "stereo mono mid side"
  },
  "widener": {
    "name": "Widener",
    "group": "Space and stereo",
    "words": "stereo wide spread pseudo decorrelate haas"
  },
  "reverse": {
    "name": "Reverse",
    "group": "Space and stereo",
    "words": "backwards"
  },
  "fork": {
    "name": "Fork",
    "group": "Routing",
    "words": "parallel branches split dry wet layers"
  }
};

export const SOURCE_NAMES: Record<Source["kind"], string> = {
  "tone": "Tone",
  "wavetable": "Wavetable",
  "noise": "Noise",
  "struck": "Struck body",
  "sample": "Sample"
};

export const MOVER_NAMES: Record<Mover["kind"], string> = {
  "lfo": "LFO",
  "curve": "Curve",
  "steps": "Steps",
  "random": "Random",
  "note": "Note",
  "velocity": "Velocity",
  "hold": "Hold",
  "follower": "Follower",
  "voice": "Voice",
  "macro": "Macro"
};

export const SOUND_DEFAULTS: Omit<Sound, "name"> = {
  "schema_version": 2,
  "seed": 1,
  "tempo_bpm": 120,
  "pitch": {
    "points": [
      {
        "time_s": 0,
        "value": 0,
        "bend": 0
      }
    ],
    "release": [],
    "loop": null
  },
  "layers": [],
  "buses": [],
  "sends": [],
  "main": {
    "chain": [],
    "level_db": 0,
    "limit_all": false,
    "end_by_s": 0
  },
  "playing": {
    "good_low": 0,
    "good_high": 127,
    "way": "poly",
    "glide_s": 0
  },
  "pattern": {
    "order": "off",
    "notes": 4,
    "octaves": 1,
    "sync": true,
    "beats": 0.25,
    "every_s": 0.1,
    "gate": 0.8,
    "fade_db": 0
  },
  "movers": [],
  "links": [],
  "hit": {
    "note": 60,
    "velocity": 100,
    "hold_s": 0.25,
    "loop_s": 0,
    "number": 1,
    "further": []
  },
  "reference": null
};

export const LAYER_DEFAULTS: Omit<Layer, "id" | "name" | "source"> = {
  "pigment": "rust",
  "mute": false,
  "solo": false,
  "level_db": 0,
  "pan": 0,
  "velocity_sense": 0.5,
  "delay_s": 0,
  "modulators": [],
  "follows_pitch": true,
  "level": {
    "points": [
      {
        "time_s": 0,
        "value": 0,
        "bend": 0
      },
      {
        "time_s": 0.002,
        "value": 1,
        "bend": 0
      }
    ],
    "release": [
      {
        "time_s": 0.06,
        "value": 0,
        "bend": 3
      }
    ],
    "loop": null
  },
  "pitch": {
    "points": [
      {
        "time_s": 0,
        "value": 0,
        "bend": 0
      }
    ],
    "release": [],
    "loop": null
  },
  "chain": [],
  "to": "main"
};

export const PROCESSOR_DEFAULTS: Defaults<Processor, "id"> = {
  "equaliser": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "equaliser",
    "band_1": {
      "on": false,
      "response": "low_cut",
      "frequency_hz": 30,
      "gain_db": 0,
      "sharpness": 0.707
    },
    "band_2": {
      "on": true,
      "response": "low_shelf",
      "frequency_hz": 110,
      "gain_db": 0,
      "sharpness": 0.707
    },
    "band_3": {
      "on": true,
      "response": "peak",
      "frequency_hz": 250,
      "gain_db": 0,
      "sharpness": 0.9
    },
    "band_4": {
      "on": true,
      "response": "peak",
      "frequency_hz": 700,
      "gain_db": 0,
      "sharpness": 0.9
    },
    "band_5": {
      "on": true,
      "response": "peak",
      "frequency_hz": 1800,
      "gain_db": 0,
      "sharpness": 0.9
    },
    "band_6": {
      "on": true,
      "response": "peak",
      "frequency_hz": 4500,
      "gain_db": 0,
      "sharpness": 0.9
    },
    "band_7": {
      "on": true,
      "response": "high_shelf",
      "frequency_hz": 9000,
      "gain_db": 0,
      "sharpness": 0.707
    },
    "band_8": {
      "on": false,
      "response": "high_cut",
      "frequency_hz": 16000,
      "gain_db": 0,
      "sharpness": 0.707
    }
  },
  "filter": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "filter",
    "response": "low_pass",
    "slope_db": 12,
    "cutoff_hz": 2000,
    "resonance": 0.707,
    "gain_db": 0,
    "key_follow": 0,
    "drive_db": 0
  },
  "tilt": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "tilt",
    "tilt_db": 3,
    "pivot_hz": 650
  },
  "formant": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "formant",
    "first_hz": 650,
    "second_hz": 1100,
    "sharpness": 8,
    "second_db": -3,
    "shift_st": 0,
    "key_follow": 0
  },
  "comb": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "comb",
    "follows_note": false,
    "frequency_hz": 220,
    "transpose_st": 0,
    "feedback": 0.7,
    "forward": 0,
    "damping_hz": 12000
  },
  "resonators": {
    "on": true,
    "mix": 0.5,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "resonators",
    "tuning": "fifths",
    "own_st": [
      0,
      7,
      12
    ],
    "follows_note": true,
    "frequency_hz": 220,
    "transpose_st": 0,
    "ring_s": 0.8,
    "damping_hz": 9000,
    "width": 0.6
  },
  "drive": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "drive",
    "shape": "soft",
    "drive_db": 6,
    "asymmetry": 0,
    "low_cut_hz": 10,
    "tone_hz": 20000,
    "high_cut_hz": 20000,
    "drawn": [
      {
        "x": -1,
        "y": -1
      },
      {
        "x": -0.3,
        "y": -0.6
      },
      {
        "x": 0,
        "y": 0
      },
      {
        "x": 0.4,
        "y": 0.9
      },
      {
        "x": 1,
        "y": 0.6
      }
    ]
  },
  "reducer": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "reducer",
    "bits": 8,
    "rate_hz": 12000,
    "smooth": false
  },
  "shifter": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "shifter",
    "way": "up",
    "shift_hz": 60
  },
  "compressor": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "compressor",
    "threshold_db": -18,
    "ratio": 3,
    "knee_db": 6,
    "attack_s": 0.01,
    "release_s": 0.12,
    "look_ahead_s": 0,
    "measure": "peak",
    "make_up_db": 0,
    "side": null,
    "side_low_cut_hz": 10
  },
  "multiband": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "multiband",
    "amount": 1,
    "low_split_hz": 120,
    "high_split_hz": 2500,
    "attack_s": 0.015,
    "release_s": 0.12,
    "low": {
      "above_db": -20,
      "above_ratio": 2.5,
      "below_db": -38,
      "below_ratio": 1.5,
      "level_db": 0
    },
    "middle": {
      "above_db": -20,
      "above_ratio": 2.5,
      "below_db": -38,
      "below_ratio": 1.5,
      "level_db": 0
    },
    "high": {
      "above_db": -20,
      "above_ratio": 2.5,
      "below_db": -38,
      "below_ratio": 1.5,
      "level_db": 0
    }
  },
  "transient": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "transient",
    "attack_db": 6,
    "sustain_db": 0,
    "speed_s": 0.02
  },
  "gate": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "gate",
    "threshold_db": -40,
    "floor_db": -80,
    "attack_s": 0.001,
    "hold_s": 0.02,
    "release_s": 0.08,
    "look_ahead_s": 0,
    "side": null,
    "side_low_cut_hz": 10
  },
  "gain": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "gain",
    "gain_db": 0,
    "pan": 0,
    "invert": false
  },
  "fade": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "fade",
    "in_s": 0,
    "out_s": 0.2,
    "end_s": 1,
    "way": "smooth"
  },
  "ceiling": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "ceiling",
    "ceiling_db": -1,
    "gain_db": 0,
    "release_s": 0.08
  },
  "chorus": {
    "on": true,
    "mix": 0.5,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "chorus",
    "voices": 3,
    "delay_s": 0.012,
    "depth_s": 0.003,
    "rate_hz": 0.6,
    "feedback": 0,
    "width": 1
  },
  "flanger": {
    "on": true,
    "mix": 0.5,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "flanger",
    "delay_s": 0.003,
    "depth_s": 0.002,
    "rate_hz": 0.25,
    "feedback": 0.4,
    "apart_deg": 90
  },
  "phaser": {
    "on": true,
    "mix": 0.5,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "phaser",
    "notches": 3,
    "centre_hz": 800,
    "depth_oct": 1.5,
    "rate_hz": 0.3,
    "feedback": 0.3,
    "apart_deg": 60
  },
  "vibrato": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "vibrato",
    "depth_cent": 25,
    "rate_hz": 5,
    "apart_deg": 0
  },
  "delay": {
    "on": true,
    "mix": 0.3,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "delay",
    "sync": false,
    "time_s": 0.25,
    "beats": 0.75,
    "feedback": 0.35,
    "crossing": false,
    "low_cut_hz": 80,
    "high_cut_hz": 8000,
    "shift_oct": 0,
    "wobble_hz": 0.5,
    "wobble_s": 0
  },
  "pitch_delay": {
    "on": true,
    "mix": 0.4,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "pitch_delay",
    "sync": false,
    "time_s": 0.2,
    "beats": 0.5,
    "shift_st": 7,
    "feedback": 0.5,
    "detune_cent": 0,
    "grain_s": 0.06,
    "low_cut_hz": 80,
    "high_cut_hz": 8000
  },
  "room": {
    "on": true,
    "mix": 0.25,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "room",
    "size_m": 12,
    "decay_s": 1.4,
    "damping_hz": 7000,
    "pre_delay_s": 0.01,
    "low_cut_hz": 150,
    "high_cut_hz": 20000,
    "movement": 0,
    "width": 1
  },
  "shimmer": {
    "on": true,
    "mix": 0.35,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "shimmer",
    "shift_st": 12,
    "amount": 0.5,
    "size_m": 20,
    "decay_s": 3,
    "damping_hz": 6000,
    "low_cut_hz": 150,
    "movement": 0,
    "width": 1
  },
  "convolution": {
    "on": true,
    "mix": 0.5,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "convolution",
    "impulse": "small_box",
    "recording": null,
    "size": 1,
    "decay_s": 2,
    "pre_delay_s": 0,
    "low_cut_hz": 40,
    "high_cut_hz": 20000
  },
  "blur": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "blur",
    "time_s": 0.3,
    "width": 0.5
  },
  "width": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "width",
    "width": 1,
    "mono_below_hz": 120,
    "slope_db": 24
  },
  "widener": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "widener",
    "amount": 0.5,
    "above_hz": 200
  },
  "reverse": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "reverse",
    "fade_s": 0.003
  },
  "fork": {
    "on": true,
    "mix": 1,
    "level_db": 0,
    "keep_loudness": false,
    "band": "all",
    "split_hz": 500,
    "kind": "fork",
    "branches": []
  }
};

export const SOURCE_DEFAULTS: { [Kind in Source["kind"]]: Extract<Source, { kind: Kind }> } = {
  "tone": {
    "follows_note": true,
    "ratio": 1,
    "octave": 0,
    "transpose_st": 0,
    "fine_cent": 0,
    "vibrato_hz": 5,
    "vibrato_st": 0,
    "fixed_hz": 110,
    "kind": "tone",
    "cycle": "shape",
    "shape": 0,
    "width": 0.5,
    "partials": {
      "amplitudes": [
        1
      ],
      "phases_deg": [],
      "tilt_db": 0,
      "odd_even": 0,
      "comb": 0
    },
    "skew": 0,
    "phase_deg": 0,
    "phase_random": 0,
    "feedback": 0,
    "unison": {
      "voices": 1,
      "detune_cent": 12,
      "width": 0.5,
      "phase_spread": 1,
      "balance": 0.5
    }
  },
  "wavetable": {
    "follows_note": true,
    "ratio": 1,
    "octave": 0,
    "transpose_st": 0,
    "fine_cent": 0,
    "vibrato_hz": 5,
    "vibrato_st": 0,
    "fixed_hz": 110,
    "kind": "wavetable",
    "table": {
      "origin": "stock",
      "name": "even-odd"
    },
    "position": 0,
    "skew": 0,
    "bend": 0,
    "fold": 0,
    "reading": "smooth",
    "scan": "still",
    "scan_s": 1,
    "phase_deg": 0,
    "phase_random": 0,
    "unison": {
      "voices": 1,
      "detune_cent": 12,
      "width": 0.5,
      "phase_spread": 1,
      "balance": 0.5
    }
  },
  "noise": {
    "kind": "noise",
    "texture": "even",
    "colour_db": 0,
    "rate_hz": 1000,
    "width": 0,
    "offset_s": 0,
    "new_each_hit": false
  },
  "struck": {
    "follows_note": true,
    "ratio": 1,
    "octave": 0,
    "transpose_st": 0,
    "fine_cent": 0,
    "vibrato_hz": 5,
    "vibrato_st": 0,
    "fixed_hz": 110,
    "kind": "struck",
    "body": "bar",
    "size": 1,
    "modes": 24,
    "position": 0.3,
    "decay_s": 1,
    "damping": 0.6,
    "inharmonicity": 0,
    "aspect": 1.5,
    "spread": 0,
    "set_st": [
      0,
      12,
      19,
      24,
      28,
      31
    ],
    "exciter": "impulse",
    "exciter_s": 0.01,
    "sweep_from_hz": 0,
    "sweep_to_hz": 30,
    "hardness": 0.7,
    "knock": 0,
    "new_each_hit": false,
    "changes": []
  },
  "sample": {
    "follows_note": true,
    "ratio": 1,
    "octave": 0,
    "transpose_st": 0,
    "fine_cent": 0,
    "vibrato_hz": 5,
    "vibrato_st": 0,
    "kind": "sample",
    "recording": null,
    "name": "",
    "start_s": 0,
    "end_s": 0,
    "snap": true,
    "reverse": false,
    "root_note": 60,
    "root_cent": 0,
    "loop": "off",
    "loop_way": "forwards",
    "loop_start_s": 0,
    "loop_end_s": 0,
    "crossfade_s": 0.01,
    "reading": "plain",
    "speed": 1,
    "grain_s": 0.06,
    "spray_s": 0,
    "advance_s": 0,
    "random_start_s": 0,
    "unison": {
      "voices": 1,
      "detune_cent": 12,
      "width": 0.5,
      "phase_spread": 1,
      "balance": 0.5
    }
  }
};

export const MOVER_DEFAULTS: Defaults<Mover, "id" | "name"> = {
  "lfo": {
    "kind": "lfo",
    "shape": "sine",
    "sync": false,
    "rate_hz": 2,
    "beats": 1,
    "width": 0.5,
    "phase_deg": 0,
    "delay_s": 0,
    "fade_s": 0,
    "once": false,
    "one_sided": false,
    "free": false,
    "drawn": {
      "points": [
        {
          "time_s": 0,
          "value": 0,
          "bend": 0
        },
        {
          "time_s": 0.5,
          "value": 1,
          "bend": 0
        }
      ],
      "release": [],
      "loop": null
    }
  },
  "curve": {
    "kind": "curve",
    "curve": {
      "points": [
        {
          "time_s": 0,
          "value": 0,
          "bend": 0
        },
        {
          "time_s": 0.5,
          "value": 1,
          "bend": 0
        }
      ],
      "release": [],
      "loop": null
    }
  },
  "steps": {
    "kind": "steps",
    "values": [
      1,
      0,
      0.5,
      0
    ],
    "skipped": [],
    "sync": true,
    "beats": 0.25,
    "rate_hz": 8,
    "glide": 0
  },
  "random": {
    "kind": "random",
    "spread": "uniform",
    "rate_hz": 0,
    "each_note": false
  },
  "note": {
    "kind": "note",
    "low": 24,
    "high": 96
  },
  "velocity": {
    "kind": "velocity"
  },
  "hold": {
    "kind": "hold",
    "longest_s": 1
  },
  "follower": {
    "kind": "follower",
    "layer": null,
    "pulses": [
      1,
      0,
      0,
      0
    ],
    "beats": 0.25,
    "pulse_s": 0.03,
    "attack_s": 0.005,
    "release_s": 0.1
  },
  "voice": {
    "kind": "voice"
  },
  "macro": {
    "kind": "macro",
    "value": 0
  }
};
