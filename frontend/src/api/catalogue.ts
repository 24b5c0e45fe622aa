import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ApiError, api, refusal, resultOf } from "./client";
import type { components } from "./generated/schema";

type Schemas = components["schemas"];
export type SampleQuery = Required<Schemas["SampleQuery"]>;
/** What was found, with what was asked for: the answer on the screen may be an older one's. */
export type SearchAnswer = Schemas["SearchBody"] & { asked: SampleQuery };
export type RangeFacet = Schemas["RangeFacet"];
export type ReleaseItem = Schemas["ReleaseBody"];
export type ReleaseChange = Schemas["ChangeBody"];
export type CommentItem = Schemas["CommentBody"];
export type WishItem = Schemas["WishBody"];
export type LinkItem = Schemas["LinkBody"];
/** New values of some fields; what is left out stays. */
export type SampleChanges = Partial<Schemas["SampleChanges"]>;

/** As the generated types want it, which know no field that may be left out with a default. */
export const asChanges = (changes: SampleChanges) => changes as Schemas["SampleChanges"];

export const EMPTY_QUERY: SampleQuery = {
  words: "",
  libraries: [],
  categories: [],
  subcategories: [],
  statuses: [],
  makers: [],
  notes: [],
  tags: [],
  folders: [],
  channels: [],
  group: "",
  sound_id: null,
  like: null,
  binned: false,
  ranges: {},
  sort: "best",
  descending: false,
};

export const PAGE = 60;

export const searchPage = (query: SampleQuery, page: number) => ({
  queryKey: ["samples", "search", query, page],
  queryFn: async (): Promise<SearchAnswer> => ({
    ...(await resultOf(
      api.POST("/api/samples/search", { body: { query, offset: page * PAGE, limit: PAGE } }),
    )),
    asked: query,
  }),
});

/** So many samples can be changed, moved or downloaded at once. */
export const MOST_AT_ONCE = 5000;

/** The ids of all that a query finds, in order. */
export const allIds = async (query: SampleQuery) =>
  (await resultOf(api.POST("/api/samples/ids", { body: { query, offset: 0, limit: PAGE } }))).ids;

/** One sample by its id; to be enabled only where there is one. */
export const oneSample = (id: number | null) => ({
  queryKey: ["samples", "one", id],
  queryFn: () =>
    resultOf(api.GET("/api/samples/{sample_id}", { params: { path: { sample_id: id ?? 0 } } })),
});

/** The catalogue's words; categories as one library has them, or as the server has them. */
export function useVocabulary(library?: number) {
  return useQuery({
    queryKey: ["vocabulary", library ?? null],
    staleTime: 60_000,
    queryFn: () =>
      resultOf(
        api.GET("/api/vocabulary", {
          params: { query: library === undefined ? {} : { library_id: library } },
        }),
      ),
  });
}

/** Words to choose from, with the one that is there, which an earlier vocabulary may have had. */
export const wordsWith = (words: readonly string[], there: string) =>
  there === "" || words.includes(there) ? words : [...words, there];

/** Everything that shows samples is read again: after a change anything may be found elsewhere. */
export function useRefreshSamples() {
  const queries = useQueryClient();
  return async () => {
    await Promise.all(
      ["samples", "libraries", "releases", "care"].map((key) =>
        queries.invalidateQueries({ queryKey: [key] }),
      ),
    );
  };
}

/** An answer without content, or the server's own sentence as an error. */
export async function succeeded(request: Promise<{ error?: unknown; response: Response }>) {
  const { error, response } = await request;
  if (response.ok) return;
  throw refusal(response.status, error);
}

export const errorText = (error: unknown) =>
  error instanceof ApiError ? error.message : "Something went wrong here";

/** The problem of one field of a form that was refused. */
export function fieldProblem(error: unknown, path: string): string | null {
  if (!(error instanceof ApiError)) return null;
  const found = error.problem?.problems.find((one) => one.path.split(".").includes(path));
  return found?.message.replace("Value error, ", "") ?? null;
}
