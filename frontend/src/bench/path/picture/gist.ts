import type { Parameter, Processor } from "../../../api";
import { formatValue } from "../../../ui";
import { BAND_NAMES, hasGain } from "./equaliserResponse";

const ONE: Partial<Record<Processor["kind"], [field: string, unit: Parameter["unit"]]>> = {
  filter: ["cutoff_hz", "Hz"],
  drive: ["drive_db", "dB"],
  formant: ["first_hz", "Hz"],
  reducer: ["rate_hz", "Hz"],
  resonators: ["ring_s", "s"],
  compressor: ["threshold_db", "dB"],
  multiband: ["amount", "percent"],
  transient: ["attack_db", "dB"],
  gate: ["threshold_db", "dB"],
  ceiling: ["ceiling_db", "dB"],
  chorus: ["rate_hz", "Hz"],
  flanger: ["rate_hz", "Hz"],
  phaser: ["centre_hz", "Hz"],
  vibrato: ["depth_cent", "cent"],
  room: ["decay_s", "s"],
  shimmer: ["shift_st", "st"],
  blur: ["time_s", "s"],
  shifter: ["shift_hz", "Hz"],
  width: ["width", "percent"],
  gain: ["gain_db", "dB"],
  fade: ["end_s", "s"],
};

const IMPULSES = {
  small_box: "small box",
  large_box: "large box",
  speaker: "speaker",
  spring: "spring",
  plate: "plate",
  imported: "imported",
};

/** The one number or word that says most of a processor. */
export function gist(part: Processor): string {
  switch (part.kind) {
    case "comb":
      if (!part.follows_note) return formatValue(part.frequency_hz, "Hz");
      return part.transpose_st === 0 ? "note" : formatValue(part.transpose_st, "st");
    case "delay":
    case "pitch_delay":
      // A card is narrow.
      return part.sync ? `${Number(part.beats.toFixed(2))} bt` : formatValue(part.time_s, "s");
    case "convolution":
      return IMPULSES[part.impulse];
    case "equaliser": {
      const working = BAND_NAMES.filter(
        (name) => part[name].on && (part[name].gain_db !== 0 || !hasGain(part[name])),
      ).length;
      return working === 1 ? "1 band" : `${working} bands`;
    }
    case "fork":
      return `${part.branches.filter(({ on }) => on).length} paths`;
    case "reverse":
      return "";
    default: {
      const [field, unit] = ONE[part.kind] ?? ["mix", "percent"];
      return formatValue(Number(Object.entries(part).find(([name]) => name === field)?.[1]), unit);
    }
  }
}
