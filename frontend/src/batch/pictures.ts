import { create } from "zustand";
import { api, resultOf } from "../api";
import { signedBytesOf, spectrogramImage } from "../ui";
import { useBatch } from "./store";

export interface MemberPicture {
  extremes: Int8Array;
  strip: HTMLCanvasElement;
}

const PAGE = 100;
const ROWS = 16;
const COLUMNS = 64;

interface PicturesState {
  round: number;
  pictures: ReadonlyMap<number, MemberPicture>;
}

/** Pictures of members of the round that is shown, as they come. */
export const usePictures = create<PicturesState>(() => ({ round: 0, pictures: new Map() }));

const underWay = new Set<string>();

/** Fetch the pictures of a stretch of members that are there and have none yet. */
export function wantPictures(numbers: readonly number[], theme: "light" | "dark"): void {
  const { round, rows } = useBatch.getState();
  if (!round) return;
  if (usePictures.getState().round !== round.id)
    usePictures.setState({ round: round.id, pictures: new Map() });
  const { pictures } = usePictures.getState();
  const missing = numbers.filter(
    (number) => rows.get(number)?.words === "" && !pictures.has(number),
  );
  const pages = new Set(missing.map((number) => Math.floor((number - 1) / PAGE)));
  for (const page of pages) void fetchPage(round.id, page, theme);
}

async function fetchPage(id: number, page: number, theme: "light" | "dark"): Promise<void> {
  const key = `${id} ${page}`;
  if (underWay.has(key)) return;
  underWay.add(key);
  try {
    const query = { first: page * PAGE + 1, last: (page + 1) * PAGE };
    const params = { path: { round_id: id }, query };
    const found = await resultOf(api.GET("/api/rounds/{round_id}/pictures", { params }));
    const shape = { rows: ROWS, columns: COLUMNS, low_hz: 20, high_hz: 20000, floor_db: -96 };
    usePictures.setState((state) => {
      if (state.round !== id) return {};
      const pictures = new Map(state.pictures);
      for (const one of found.pictures) {
        const strip = spectrogramImage({ ...shape, data: one.strip }, theme);
        pictures.set(one.number, { extremes: signedBytesOf(one.outline), strip });
      }
      return { pictures };
    });
  } catch {
    // The next look at these members asks again.
  } finally {
    underWay.delete(key);
  }
}

/** Pictures that do not hold any more: those of members drawn anew, or all where the theme changed. */
export function forgetPictures(numbers: readonly number[] | null): void {
  usePictures.setState((state) => {
    if (numbers === null) return { pictures: new Map() };
    const pictures = new Map(state.pictures);
    for (const number of numbers) pictures.delete(number);
    return { pictures };
  });
}
