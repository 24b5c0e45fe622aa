import { create } from "zustand";
import { api, resultOf } from "../api";
import { useBatch } from "./store";

/** As it came: it is made an image when its tile is drawn, not a hundred at a time. */
export interface MemberPicture {
  outline: string;
  strip: string;
}

const PAGE = 100;

interface PicturesState {
  round: number;
  pictures: ReadonlyMap<number, MemberPicture>;
}

/** Pictures of members of the round that is shown, as they come. */
export const usePictures = create<PicturesState>(() => ({ round: 0, pictures: new Map() }));

const underWay = new Set<string>();

/** Fetch the pictures that a round begins with, before its members are known. */
export function firstPictures(id: number): void {
  usePictures.setState({ round: id, pictures: new Map() });
  void fetchPage(id, 0);
}

/** Fetch the pictures of a stretch of members that are there and have none yet. */
export function wantPictures(numbers: readonly number[]): void {
  const { round, rows } = useBatch.getState();
  if (!round) return;
  if (usePictures.getState().round !== round.id)
    usePictures.setState({ round: round.id, pictures: new Map() });
  const { pictures } = usePictures.getState();
  const missing = numbers.filter(
    (number) => rows.get(number)?.words === "" && !pictures.has(number),
  );
  const pages = new Set(missing.map((number) => Math.floor((number - 1) / PAGE)));
  for (const page of pages) void fetchPage(round.id, page);
}

async function fetchPage(id: number, page: number): Promise<void> {
  const key = `${id} ${page}`;
  if (underWay.has(key)) return;
  underWay.add(key);
  try {
    const query = { first: page * PAGE + 1, last: (page + 1) * PAGE };
    const params = { path: { round_id: id }, query };
    const found = await resultOf(api.GET("/api/rounds/{round_id}/pictures", { params }));
    usePictures.setState((state) => {
      if (state.round !== id) return {};
      const pictures = new Map(state.pictures);
      for (const one of found.pictures) pictures.set(one.number, one);
      return { pictures };
    });
  } catch {
    // The next look at these members asks again.
  } finally {
    underWay.delete(key);
  }
}

/** Pictures that do not hold any more: those of members drawn anew. */
export function forgetPictures(numbers: readonly number[]): void {
  usePictures.setState((state) => {
    const pictures = new Map(state.pictures);
    for (const number of numbers) pictures.delete(number);
    return { pictures };
  });
}
