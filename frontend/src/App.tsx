import { Route, Routes } from "react-router";
import { useSession } from "./api";
import { BringIn } from "./imports";
import { useShowSamples } from "./libraries/common";
import {
  BatchPage,
  BenchPage,
  LibrariesPage,
  OnTheWay,
  SharedPage,
  TryOutPage,
  useOtherScreens,
} from "./screens";
import { SignInPage, WelcomePage } from "./session";
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
  if (session.error)
    return (
      <p role="alert" className="p-6">
        {session.error.message}
      </p>
    );
  if (!session.data) return null;
  if (!session.data.account) return <SignInPage session={session.data} />;
  return (
    <div className="flex h-full">
      <a
        href="#work"
        className="sr-only z-50 rounded-control bg-ink px-3 py-2 text-sheet focus:not-sr-only focus:fixed focus:top-2 focus:left-2"
      >
        Skip to the screen
      </a>
      <Rail account={session.data.account} />
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
          <Route path="*" element={<Redirect to="/bench" />} />
        </Routes>
      </OnTheWay>
      <BringIn onShow={showSamples} />
    </div>
  );
}
