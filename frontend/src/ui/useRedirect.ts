import { useCallback, useEffect } from "react";
import { useLocation, useNavigate, type To } from "react-router";

/**
 * Puts another address in place of the shown one, unless someone went on in the meantime: a screen
 * that is still on its way leaves the last one standing, whose answers may come after the click.
 *
 * @returns what does it, and says whether it did
 */
export function useRedirect(): (to: To) => boolean {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  return useCallback(
    (to: To) => {
      if (window.location.pathname !== pathname) return false;
      void navigate(to, { replace: true });
      return true;
    },
    [pathname, navigate],
  );
}

/** Goes on to another address as soon as it is shown. */
export function Redirect({ to }: { to: To }) {
  const redirect = useRedirect();
  useEffect(() => void redirect(to), [redirect, to]);
  return null;
}
