import { create } from "zustand";

type Theme = "light" | "dark";
const KEY = "nest-crate:theme";

export const useTheme = create<{ theme: Theme }>(() => ({ theme: "light" }));

function preferred(): Theme {
  const kept = localStorage.getItem(KEY);
  if (kept === "light" || kept === "dark") return kept;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

function apply(theme: Theme): void {
  document.documentElement.dataset.theme = theme;
  useTheme.setState({ theme });
}

/** The theme that was chosen here before, or else the system's; once, before anything is drawn. */
export function startTheme(): void {
  apply(preferred());
}

export function toggleTheme(): void {
  const theme = useTheme.getState().theme === "light" ? "dark" : "light";
  localStorage.setItem(KEY, theme);
  apply(theme);
}
