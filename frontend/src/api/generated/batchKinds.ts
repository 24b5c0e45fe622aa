/* Made by scripts/document-types.mjs from docs/declarations.json; not edited by hand. */
import type { PartDeclaration } from "../types";
import type { Axis, BatchPlan, MemberRules, PlannedSound, Spread } from "./batch";

export const BATCH_KINDS = {
  "batch": {
    "help": "A plan of a family; the same plan and engine give the same bytes.",
    "parameters": [
      {
        "name": "seed",
        "label": "Seed",
        "unit": "",
        "minimum": 0,
        "maximum": 2147483647,
        "default": 1,
        "scale": "linear",
        "step": 1,
        "whole": true,
        "help": "",
        "followed": false,
        "octaves": false
      },
      {
        "name": "difference",
        "label": "How different",
        "unit": "percent",
        "minimum": 0,
        "maximum": 4,
        "default": 1,
        "scale": "linear",
        "step": 0.05,
        "whole": false,
        "help": "Scales every spread around the value that the sound has.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "narrow",
        "label": "Narrower",
        "unit": "percent",
        "minimum": 0.02,
        "maximum": 1,
        "default": 0.4,
        "scale": "linear",
        "step": 0.05,
        "whole": false,
        "help": "Width of the spreads around picked members, of that around the original.",
        "followed": false,
        "octaves": false
      }
    ],
    "choices": []
  },
  "sound": {
    "help": "A sound of the plan: one of a library by its id, at a revision, or one that stands here.",
    "parameters": [
      {
        "name": "draws",
        "label": "Draws",
        "unit": "",
        "minimum": 1,
        "maximum": 20000,
        "default": 1,
        "scale": "linear",
        "step": 1,
        "whole": true,
        "help": "For each step of the axes.",
        "followed": false,
        "octaves": false
      }
    ],
    "choices": []
  },
  "members": {
    "help": "What every member gets when it is finished and kept.",
    "parameters": [
      {
        "name": "ceiling_db",
        "label": "Ceiling",
        "unit": "dB",
        "minimum": -24,
        "maximum": 0,
        "default": -1,
        "scale": "linear",
        "step": 0.1,
        "whole": false,
        "help": "True peak of every member.",
        "followed": false,
        "octaves": false
      },
      {
        "name": "fade_s",
        "label": "Fade",
        "unit": "s",
        "minimum": 0,
        "maximum": 5,
        "default": 0.005,
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
        "name": "trim",
        "label": "Trim end",
        "type": "switch"
      }
    ]
  }
} as Record<
  "batch" | "sound" | "members",
  PartDeclaration
>;

export const BATCH_DEFAULTS: {
  batch: Omit<BatchPlan, "name" | "sounds">;
  sound: Omit<PlannedSound, "id">;
  axis: Omit<Axis, "kind" | "values">;
  spread: Omit<Spread, "target" | "low" | "high">;
  members: MemberRules;
} = {
  "batch": {
    "schema_version": 1,
    "seed": 1,
    "difference": 1,
    "members": {
      "loudness_lufs": null,
      "ceiling_db": -1,
      "trim": true,
      "fade_s": 0.005,
      "name": "{sound} {number:02}",
      "group": "",
      "category": "",
      "tags": []
    },
    "around": [],
    "away": [],
    "narrow": 0.4
  },
  "sound": {
    "sound": null,
    "revision": null,
    "axes": [],
    "spreads": [],
    "draws": 1
  },
  "axis": {
    "first": null,
    "last": null,
    "step": 1
  },
  "spread": {
    "shape": "bell",
    "together": ""
  },
  "members": {
    "loudness_lufs": null,
    "ceiling_db": -1,
    "trim": true,
    "fade_s": 0.005,
    "name": "{sound} {number:02}",
    "group": "",
    "category": "",
    "tags": []
  }
};
