// Runs before the page's own scripts: notes which elements are given click (1) and key (2) handlers.
(() => {
  const heard = new WeakMap();
  Object.defineProperty(window, Symbol.for("plumrake.listeners"), {value: heard});
  const bits = {
    click: 1, dblclick: 1, mousedown: 1, mouseup: 1, pointerdown: 1, pointerup: 1, touchstart: 1, touchend: 1,
    keydown: 2, keyup: 2, keypress: 2};
  const keys = /^(key|focus|blur)/;
  const add = EventTarget.prototype.addEventListener;
  EventTarget.prototype.addEventListener = function (type, ...rest) {
    if (bits[type] && this instanceof Element) heard.set(this, (heard.get(this) || 0) | bits[type]);
    if (keys.test(type)) window[Symbol.for("plumrake.keys")] = true;
    return add.call(this, type, ...rest);
  };
})();
