import { useEffect, useRef } from "react";
import { useLocation } from "react-router";
import { EMPTY_QUERY } from "../../api";
import { useRedirect } from "../../ui";
import { AddressesWritten } from "./addressesWritten";
import { askAnew, useSelection } from "./queryStore";
import { searchAddress, searchIn } from "./searchAddress";
import { useSettledQuery } from "./useSettledQuery";

let last: { library: string; address: string } | null = null;

/** Where one was last in the libraries, to go on there after a visit elsewhere. */
export const lastVisit = () => last;

/**
 * Keeps the search and the address alike: what is asked for stands in the address, so that it can be
 * sent and kept; an address that asks for something is searched.
 *
 * @param library the number of the library, "" for all, null while it is not known
 * @param searching whether the view shows what is found
 */
export function useSearchAddress(library: string | null, binned: boolean, searching: boolean) {
  const { pathname, search } = useLocation();
  const redirect = useRedirect();
  const written = useRef(new AddressesWritten());
  const query = useSettledQuery(useSelection((state) => state.query));
  const asked = search.slice(1);

  useEffect(() => {
    if (library === null || written.current.takes(`${pathname}?${asked}`)) return;
    const now = useSelection.getState().query;
    const libraries = library === "" ? [] : [Number(library)];
    const same = now.libraries?.join() === libraries.join() && now.binned === binned;
    const wanted = searchAddress({ ...EMPTY_QUERY, ...searchIn(asked) });
    // Without a search in the address, what was asked for last in this library stands.
    if (same && (wanted === "" || wanted === searchAddress(now))) return;
    // Another library is another search, and so is its bin.
    askAnew({ ...searchIn(asked), libraries, binned });
  }, [library, binned, pathname, asked]);

  useEffect(() => {
    if (library === null || !searching) return;
    const ofHere = (query.libraries ?? []).join() === library && query.binned === binned;
    const wanted = searchAddress(query);
    // What an address asks for is taken over first.
    if (!ofHere || wanted === asked || query !== useSelection.getState().query) return;
    if (redirect({ pathname, search: wanted })) written.current.note(`${pathname}?${wanted}`);
  }, [query, library, binned, searching, asked, pathname, redirect]);

  useEffect(() => {
    if (library !== null) last = { library, address: pathname + search };
  }, [library, pathname, search]);
}
