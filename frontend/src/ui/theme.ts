import { create } from "zustand";

type Theme = "light" | "dark";
const KEY = "nest-crate:theme";

function initial(): Theme {
  const kept = localStorage.getItem(KEY);
  if (kept === "light" || kept === "dark") return kept;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

export const useTheme = create<{ theme: Theme }>(() => ({ theme: initial() }));

function apply(theme: Theme) {
  document.documentElement.dataset.theme = theme;
}
apply(useTheme.getState().theme);

export function toggleTheme(): void {
  const theme = useTheme.getState().theme === "light" ? "dark" : "light";
  localStorage.setItem(KEY, theme);
  apply(theme);
  useTheme.setState({ theme });
}
