import { useEffect, useState } from "react";
import { Route, Routes } from "react-router";
import { noteSession, type SessionAnswer, useSession, useSignedOut } from "./api";
import { BringIn } from "./imports";
import { useShowSamples } from "./libraries/common";
import {
  BatchPage,
  BenchPage,
  ComparePage,
  LibrariesPage,
  OnTheWay,
  SharedPage,
  TryOutPage,
  useOtherScreens,
} from "./screens";
import { SignInAgain, SignInPage, WelcomePage } from "./session";
import { Rail } from "./shell";
import { Redirect } from "./ui";

export function App() {
  return (
    <OnTheWay>
      <Routes>
        <Route path="/shared/:secret" element={<SharedPage />} />
        <Route path="/welcome/:secret" element={<WelcomePage />} />
        <Route path="*" element={<Inside />} />
      </Routes>
    </OnTheWay>
  );
}

/** All that needs a signed-in account. */
function Inside() {
  const session = useSession();
  const showSamples = useShowSamples();
  useOtherScreens();
  const signedOut = useSignedOut((state) => state.signedOut);
  const [last, setLast] = useState<SessionAnswer["account"]>(null);
  const now = session.data?.account ?? null;
  if (now !== null && now !== last) setLast(now);
  useEffect(() => {
    if (now !== null) noteSession(true);
  }, [now]);
  if (session.error)
    return (
      <p role="alert" className="p-6">
        {session.error.message}
      </p>
    );
  if (!session.data) return null;
  const account = session.data.account ?? (signedOut ? last : null);
  if (!account) return <SignInPage session={session.data} />;
  return (
    <div className="flex h-full">
      <a
        href="#work"
        className="sr-only z-50 rounded-control bg-ink px-3 py-2 text-sheet focus:not-sr-only focus:fixed focus:top-2 focus:left-2"
      >
        Skip to the screen
      </a>
      <Rail account={account} />
      <OnTheWay>
        <Routes>
          <Route path="/bench" element={<BenchPage />} />
          <Route path="/bench/:soundId" element={<BenchPage />} />
          <Route path="/tryout" element={<TryOutPage />} />
          <Route path="/tryout/:tryoutId" element={<TryOutPage />} />
          <Route path="/batch" element={<BatchPage onShow={showSamples} />} />
          <Route path="/batch/:batchId" element={<BatchPage onShow={showSamples} />} />
          <Route path="/libraries" element={<LibrariesPage />} />
          <Route path="/libraries/:libraryId" element={<LibrariesPage />} />
          <Route path="/libraries/:libraryId/:view" element={<LibrariesPage />} />
          <Route path="/compare" element={<ComparePage />} />
          <Route path="*" element={<Redirect to="/bench" />} />
        </Routes>
      </OnTheWay>
      <BringIn onShow={showSamples} />
      <SignInAgain account={account} />
    </div>
  );
}
