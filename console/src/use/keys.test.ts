import { mount } from "@vue/test-utils";
import { afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { defineComponent, h } from "vue";
import {
  keyMap,
  letLettersAct,
  lettersAct,
  listenForKeys,
  useKeys,
  useRowKeys,
  type Key,
} from "@/use/keys";

const pressed: string[] = [];
const key = (keys: string, says = keys): Key => ({ keys, says, act: () => pressed.push(says) });

function withKeys(...keys: Key[]) {
  return mount(
    defineComponent({
      setup() {
        useKeys(keys);
        return () => h("div");
      },
    }),
  );
}

function press(name: string, target: EventTarget = document.body, more: KeyboardEventInit = {}) {
  target.dispatchEvent(
    new KeyboardEvent("keydown", { key: name, bubbles: true, cancelable: true, ...more }),
  );
}

beforeAll(() => listenForKeys());
beforeEach(() => {
  pressed.splice(0);
  document.body.innerHTML = "";
  letLettersAct(true);
});
afterEach(() => keyMap.splice(0));

describe("keys", () => {
  it("act as long as their component is there", () => {
    const wrapper = withKeys(key("o"));
    press("o");
    wrapper.unmount();
    press("o");
    expect(pressed).toEqual(["o"]);
    expect(keyMap).toEqual([]);
  });

  it("may be two, one after the other", () => {
    withKeys(key("g d", "desk"), key("d", "delete"));
    press("g");
    press("d");
    press("d");
    expect(pressed).toEqual(["desk", "delete"]);
  });

  it("mean what the newest component says", () => {
    withKeys(key("n", "old"));
    const newest = withKeys(key("n", "new"));
    press("n");
    newest.unmount();
    press("n");
    expect(pressed).toEqual(["new", "old"]);
  });

  it("are letters while somebody types, but for those with Control", () => {
    withKeys(key("o"), key("Control+k", "find"));
    const field = document.body.appendChild(document.createElement("textarea"));
    press("o", field);
    press("k", field, { ctrlKey: true });
    expect(pressed).toEqual(["find"]);
  });

  it("act on a checkbox, which takes no letters", () => {
    withKeys(key("x"));
    const box = document.body.appendChild(document.createElement("input"));
    box.type = "checkbox";
    press("x", box);
    expect(pressed).toEqual(["x"]);
  });

  it("do nothing while a dialog is open, with Alt, or where letters are kept from acting", () => {
    withKeys(key("o"));
    document.body.innerHTML = "<dialog open></dialog>";
    press("o");
    document.body.innerHTML = "";
    press("o", document.body, { altKey: true });
    letLettersAct(false);
    press("o");
    expect(pressed).toEqual([]);
    expect(lettersAct.value).toBe(false);
    expect(localStorage.getItem("plumrake-keys")).toBe("off");
  });
});

describe("rows", () => {
  function rows() {
    document.body.innerHTML = `<main>${[1, 2, 3]
      .map((n) => `<div data-row><input type="checkbox"><a href="#${n}">Row ${n}</a></div>`)
      .join("")}</main>`;
    return mount(
      defineComponent({
        setup() {
          useRowKeys("row");
          return () => h("div");
        },
      }),
    );
  }
  const at = () =>
    [...document.querySelectorAll("[data-row]")].findIndex((row) =>
      row.contains(document.activeElement),
    );

  it("are gone through with j and k, and stop at the ends", () => {
    rows();
    for (const expected of [0, 1, 2, 2]) {
      press("j");
      expect(at()).toBe(expected);
    }
    for (const expected of [1, 0, 0]) {
      press("k");
      expect(at()).toBe(expected);
    }
  });

  it("begin at the last with k, and are chosen with x", () => {
    rows();
    press("k");
    expect(at()).toBe(2);
    press("x");
    const boxes = [...document.querySelectorAll<HTMLInputElement>("input")];
    expect(boxes.map((box) => box.checked)).toEqual([false, false, true]);
  });

  it("need not be there", () => {
    rows();
    document.body.innerHTML = "<main></main>";
    press("j");
    expect(document.activeElement).toBe(document.body);
  });
});
