import { onMounted, onUnmounted, reactive, ref } from "vue";

export interface Key {
  keys: string;
  says: string;
  act: () => void;
}
const KEY = "plumrake-keys";

/** Whether single letters act; those who speak to their computer, or hit keys by chance, turn it off (WCAG 2.1.4). */
export const lettersAct = ref(localStorage.getItem(KEY) !== "off");
/** What the keys do here, the frame's first. */
export const keyMap = reactive<Key[]>([]);

export function letLettersAct(on: boolean) {
  lettersAct.value = on;
  localStorage.setItem(KEY, on ? "on" : "off");
}

/** Let keys act as long as the component is there. "g o" is g, then o; "Control+k" works whether letters act or not. */
export function useKeys(keys: Key[]) {
  onMounted(() => keyMap.push(...keys));
  onUnmounted(() => {
    for (const key of keys)
      keyMap.splice(
        keyMap.findIndex((one) => one.keys === key.keys && one.says === key.says),
        1,
      );
  });
}

const FIELDS =
  "input:not([type=checkbox], [type=radio], [type=button]), textarea, select, [contenteditable], [role=combobox], [role=listbox], [role=slider]";
let first = "";
let until = 0;

/** The one listener: finds what a key, or two one after the other, does. The newest meaning goes first. */
export function listenForKeys() {
  document.addEventListener("keydown", (event) => {
    const held = `${event.ctrlKey || event.metaKey ? "Control+" : ""}${event.key}`;
    if (event.altKey || event.defaultPrevented) return;
    const typing = event.target instanceof Element && event.target.closest(FIELDS) !== null;
    if (
      !held.startsWith("Control+") &&
      (typing || !lettersAct.value || document.querySelector("dialog[open], .p-dialog-mask"))
    )
      return;
    const pair = first && Date.now() < until ? `${first} ${held}` : "";
    const found =
      keyMap.findLast((one) => one.keys === pair) ?? keyMap.findLast((one) => one.keys === held);
    first = keyMap.some((one) => one.keys.startsWith(`${held} `)) ? held : "";
    until = Date.now() + 1500;
    if (!found) return;
    event.preventDefault();
    found.act();
  });
}

/** j and k go through what bears `data-row` on the page; the first one is the one that was left. */
export function useRowKeys(what: string) {
  function go(step: number) {
    const rows = [...document.querySelectorAll<HTMLElement>("main [data-row]")];
    if (!rows.length) return;
    const at = rows.findIndex((row) => row.contains(document.activeElement));
    const next =
      rows[
        at < 0
          ? step > 0
            ? 0
            : rows.length - 1
          : Math.min(Math.max(at + step, 0), rows.length - 1)
      ]!;
    const target = next.matches("a, button")
      ? next
      : next.querySelector<HTMLElement>("a, button, input");
    target?.focus();
    next.scrollIntoView({ block: "nearest" });
  }
  useKeys([
    { keys: "j", says: `next ${what}`, act: () => go(1) },
    { keys: "k", says: `${what} before`, act: () => go(-1) },
    {
      keys: "x",
      says: `choose the ${what}, or not`,
      act: () =>
        document.activeElement
          ?.closest("[data-row]")
          ?.querySelector<HTMLElement>("input[type=checkbox]")
          ?.click(),
    },
  ]);
}

/** a goes to what can be done with the rows that are chosen. */
export function useChosenKey() {
  useKeys([
    {
      keys: "a",
      says: "what to do with what is chosen",
      act: () => document.querySelector<HTMLElement>("#with-chosen [role=combobox]")?.focus(),
    },
  ]);
}
