import { useEffect, useState } from "react";
import { bringFiles } from "./importStore";
import { dropped } from "./folders";

/** True while files are held over the window; what is dropped is taken. */
export function useFileDrop(): boolean {
  const [over, setOver] = useState(false);
  useEffect(() => {
    const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;
    const hold = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (event.relatedTarget === null) setOver(false);
    };
    const drop = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      setOver(false);
      if (event.dataTransfer) void dropped(event.dataTransfer.items).then(bringFiles);
    };
    window.addEventListener("dragenter", hold);
    window.addEventListener("dragover", hold);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragenter", hold);
      window.removeEventListener("dragover", hold);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
    };
  }, []);
  return over;
}
