import { expect, it } from "vitest";
import { figureRow } from "./figureRow";

it("writes a row in one unit that fits its largest value", () => {
  expect(figureRow("length_s", [0.55, 0.1398])).toEqual({ unit: "ms", texts: ["550", "140"] });
  expect(figureRow("length_s", [0.55, 10.2])).toEqual({ unit: "s", texts: ["0.6", "10.2"] });
  expect(figureRow("brightness_hz", [72.44, 1710])).toEqual({ unit: "Hz", texts: ["72", "1710"] });
  expect(figureRow("brightness_hz", [72, 12_000]).unit).toBe("kHz");
  expect(figureRow("loudness_lufs", [-17.12])).toEqual({ unit: "LUFS", texts: ["−17.1"] });
  expect(figureRow("low_share_db", [])).toEqual({ unit: "dB", texts: [] });
});
