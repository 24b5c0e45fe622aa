import { Navigate, Route, Routes } from "react-router";
import { BenchPage } from "./bench";
import { BringIn } from "./bringing";
import { LibrariesPage } from "./libraries";
import { Rail } from "./ui/Rail";

export function App() {
  return (
    <div className="flex h-full">
      <Rail />
      <Routes>
        <Route path="/bench" element={<BenchPage />} />
        <Route path="/bench/:soundId" element={<BenchPage />} />
        <Route path="/libraries" element={<LibrariesPage />} />
        <Route path="/libraries/:libraryId" element={<LibrariesPage />} />
        <Route path="*" element={<Navigate to="/bench" replace />} />
      </Routes>
      <BringIn />
    </div>
  );
}
