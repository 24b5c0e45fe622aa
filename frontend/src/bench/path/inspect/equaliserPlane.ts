/** Where a frequency and a level lie in the equaliser's picture. */
export const WIDTH = 282;
export const HEIGHT = 156;
export const SPAN_DB = 24;
export const LOW_HZ = 20;
export const DECADES = 3;
export const GRID_HZ = [50, 100, 200, 500, 1000, 2000, 5000, 10000];

export const xOf = (hz: number) => (Math.log10(hz / LOW_HZ) / DECADES) * WIDTH;
export const hzOf = (x: number) => LOW_HZ * 10 ** ((x / WIDTH) * DECADES);
export const yOf = (db: number) => HEIGHT / 2 - (db / SPAN_DB) * (HEIGHT / 2 - 8);
export const dbOf = (y: number) => ((HEIGHT / 2 - y) / (HEIGHT / 2 - 8)) * SPAN_DB;
export const held = (value: number, low: number, high: number) =>
  Math.min(high, Math.max(low, value));

/** What a band is called. */
export const bandTitle = (name: string) => name.replace("_", " ");
