import { ref } from "vue";

export type Theme = "system" | "light" | "dark";
const KEY = "plumrake-theme";
const system = matchMedia("(prefers-color-scheme: dark)");

/** The theme that was chosen in this browser. */
export const theme = ref<Theme>((localStorage.getItem(KEY) as Theme | null) ?? "system");

function show() {
  document.documentElement.classList.toggle(
    "dark",
    theme.value === "dark" || (theme.value === "system" && system.matches),
  );
}

/** Show the chosen theme, and follow the system where that was chosen. */
export function followTheme() {
  system.addEventListener("change", show);
  show();
}

export function chooseTheme(chosen: Theme) {
  theme.value = chosen;
  localStorage.setItem(KEY, chosen);
  show();
}
