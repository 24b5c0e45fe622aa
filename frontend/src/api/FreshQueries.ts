import {
  type InvalidateOptions,
  type InvalidateQueryFilters,
  type QueryKey,
  QueryClient,
} from "@tanstack/react-query";

/**
 * A client whose invalidation also holds for what is being loaded for the first time. The library
 * lets such a load go on and takes its answer for fresh, even if the server gave it before the
 * change: somebody who is quick would not see what they have just added.
 */
export class FreshQueries extends QueryClient {
  override async invalidateQueries<Key extends QueryKey = QueryKey>(
    filters?: InvalidateQueryFilters<Key>,
    options?: InvalidateOptions,
  ): Promise<void> {
    const loading = new Set(
      this.getQueryCache()
        .findAll(filters)
        .filter((query) => query.state.data === undefined && query.state.fetchStatus !== "idle")
        .map((query) => query.queryHash),
    );
    await super.invalidateQueries(filters, options);
    if (loading.size > 0) {
      const predicate = (query: { queryHash: string }) => loading.has(query.queryHash);
      await super.invalidateQueries({ ...filters, predicate }, options);
    }
  }
}
