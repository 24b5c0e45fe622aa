import { useQuery, useQueryClient } from "@tanstack/react-query";
import { resultOf, api, type Processor } from "../../api";

export interface SavedChain {
  id: number;
  name: string;
  chain: Processor[];
}

/** Chains that were saved under a name, and how to save and forget one. */
export function useChains() {
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: ["chains"],
    staleTime: 60_000,
    queryFn: async () =>
      (await resultOf(api.GET("/api/chains"))).chains.map(({ chain, ...rest }) => ({
        ...rest,
        chain: chain.map((part) => part as Processor & Record<string, unknown>),
      })),
  });
  const renew = () => queries.invalidateQueries({ queryKey: ["chains"] });
  const keep = async (name: string, chain: Processor[]) => {
    const body = { name, chain: chain.map((part) => ({ ...part })) };
    await resultOf(api.POST("/api/chains", { body }));
    await renew();
  };
  const forget = async (id: number) => {
    const params = { path: { chain_id: id } };
    await resultOf(api.DELETE("/api/chains/{chain_id}", { params, parseAs: "text" })).catch(
      () => null,
    );
    await renew();
  };
  return { chains: found.data ?? [], keep, forget };
}
