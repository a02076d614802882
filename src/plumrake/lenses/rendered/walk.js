// Watches what takes focus while Tab is pressed. Called with a step's name; the collector has left the elements on the
// window, in the order of their indexes. Step "begin" returns whether the page does anything that makes a walk worth
// while, and how many stops are to be expected; "report" what was seen.
([step, wanted]) => {
  const KEY = Symbol.for("plumrake.walk");
  const elements = window[Symbol.for("plumrake.elements")] || [];
  const PROPERTIES = [
    "outline-style", "outline-width", "outline-color", "outline-offset", "border-top-color", "border-top-width", "border-bottom-color",
    "border-bottom-width", "border-left-color", "border-left-width", "background-color", "background-image", "background-size",
    "background-position", "color", "box-shadow", "text-decoration-line", "text-decoration-color", "text-decoration-style",
    "text-decoration-thickness", "text-shadow", "transform", "translate", "scale", "opacity", "visibility", "display", "filter",
    "font-weight", "font-style", "clip-path", "fill", "stroke", "width", "height", "left", "top", "content"];
  const TYPED = /^(text|search|tel|url|email|password|number|date|month|week|time|datetime-local)$/;

  const isClear = (colour) => colour === "transparent" || /^rgba\(.*,\s*0\)$/.test(colour) || /\/\s*0\)$/.test(colour);
  const papers = new Map();
  const paperOf = (element) => {
    const above = element.parentElement;
    if (!above) return "rgb(255, 255, 255)";
    if (!papers.has(above)) {
      const colour = getComputedStyle(above).backgroundColor;
      papers.set(above, isClear(colour) ? paperOf(above) : colour);
    }
    return papers.get(above);
  };
  // Elements of one kind are marked alike: two of each are looked at.
  const OF_A_KIND = 2;
  const kindOf = (element) => {
    const parts = [paperOf(element), element.getAttribute("style") || ""];
    for (let here = element, level = 0; here && level < 3; here = here.parentElement, level++) parts.push(here.localName, here.getAttribute("class") || "");
    return parts.join("|");
  };
  const bare = (computed, paper) => {
    const values = PROPERTIES.map((name) => computed.getPropertyValue(name));
    // An outline that draws nothing is none: without width, transparent, or in the colour of the paper. Pixels have the last word.
    if (values[0] === "none" || parseFloat(values[1]) === 0 || isClear(values[2]) || values[2] === paper) values[0] = values[1] = values[2] = values[3] = "";
    return values.join(";");
  };
  const look = (element) => {
    const paper = paperOf(element);
    return [null, "::before", "::after"].map((part) => bare(getComputedStyle(element, part), paper)).join("|");
  };
  const hasCaret = (element) =>
    (element instanceof HTMLInputElement && TYPED.test(element.type)) || element instanceof HTMLTextAreaElement || element.isContentEditable;
  const isStop = (element) => {
    if (!(element instanceof HTMLElement || element instanceof SVGElement) || element.tabIndex < 0 || element.disabled) return false;
    if (element.matches(":disabled") || element.closest("[inert]") || (element instanceof HTMLInputElement && element.type === "hidden")) return false;
    if (element instanceof HTMLInputElement && element.type === "radio" && element.name && !element.checked) {
      const group = [...document.querySelectorAll('input[type="radio"]')].filter((one) => one.name === element.name && one.form === element.form);
      if (group.some((one) => one.checked) || group[0] !== element) return false;
    }
    return element.checkVisibility ? element.checkVisibility({visibilityProperty: true}) : true;
  };
  // So many times at most Tab stops inside one element: the pieces of a date, the buttons of a film that was loaded.
  const PIECES = {date: 4, month: 3, week: 3, time: 6, "datetime-local": 9};
  const stopsIn = (element) => {
    if (element instanceof HTMLInputElement) return PIECES[element.type] || 1;
    return element instanceof HTMLMediaElement ? (element.readyState ? 9 : 2) : 1;
  };
  const sumOf = (stops) => stops.reduce((sum, stop) => sum + stopsIn(stop), 0);
  const takesOutlinesAway = () => {
    const pattern = /outline(-style|-width|-color)?\s*:\s*([^;]*\bnone\b|0(px)?\s*(;|!|$|\})|[^;]*\btransparent\b)/;
    if (document.querySelector('[style*="outline"]')) return true;
    const papers = new Set(["rgb(255, 255, 255)", ...[...document.querySelectorAll("body, header, nav, main, footer")].map((one) => getComputedStyle(one).backgroundColor)]);
    const probe = document.createElement("i");
    document.documentElement.append(probe);
    const asPaper = (colour) => { probe.style.color = ""; probe.style.color = colour; return papers.has(getComputedStyle(probe).color); };
    const hides = (rule) => pattern.test(rule.cssText) ||
      (rule.style && rule.selectorText && rule.selectorText.includes(":focus") && rule.style.outlineColor && asPaper(rule.style.outlineColor));
    try { for (const sheet of [...document.styleSheets, ...document.adoptedStyleSheets]) for (const rule of sheet.cssRules) if (hides(rule)) return true; } catch { return true; } finally { probe.remove(); }
    return false;
  };
  const listensToKeys = () => Boolean(window[Symbol.for("plumrake.keys")]) ||
    elements.some((one) => one.onkeydown || one.onkeypress || one.onkeyup || one.onfocus || one.onblur || one.onfocusin || one.onfocusout);

  // Whether Tab goes from one focusable element to the next, unless a script has it otherwise: nothing has stops inside it
  // or keeps the focus.
  const isPlain = () => !document.querySelector("iframe, frame, object, embed, area[href], audio, video, [contenteditable], dialog[open], [popover], [autofocus]") &&
    !elements.some((one) => one.shadowRoot || stopsIn(one) > 1);
  // What can be scrolled and holds no stop is one itself.
  const isScroller = (one) => {
    if (one.scrollHeight <= one.clientHeight && one.scrollWidth <= one.clientWidth) return false;
    if (one === document.documentElement || one === document.body || one instanceof HTMLTextAreaElement) return false;
    const style = getComputedStyle(one);
    return /auto|scroll/.test(style.overflowX + style.overflowY) && style.visibility === "visible" && ![...one.querySelectorAll("*")].some(isStop);
  };
  const inOrder = (stops) => {
    const first = stops.filter((one) => one.tabIndex > 0).sort((one, other) => one.tabIndex - other.tabIndex);
    return [...first, ...stops.filter((one) => one.tabIndex <= 0)];
  };

  const active = () => {
    let here = document.activeElement;
    while (here && here.shadowRoot && here.shadowRoot.activeElement) here = here.shadowRoot.activeElement;
    return here;
  };
  const paints = (element) => {
    if (/^(img|video|canvas|iframe|object|embed)$/.test(element.localName)) return true;
    const computed = getComputedStyle(element);
    return computed.backgroundImage !== "none" || /^rgb\(/.test(computed.backgroundColor);
  };
  const isVeil = (element) => {
    for (let here = element; here; here = here.parentElement) if (parseFloat(getComputedStyle(here).opacity) < 1) return true;
    return false;
  };
  // What was lifted out of the flow and could come to lie over something; looked at before each costly hit test.
  const lifted = () => elements.filter((one) => /fixed|sticky|absolute/.test(getComputedStyle(one).position));
  const mayLieUnder = (element, covers) => {
    const own = element.getBoundingClientRect();
    return covers.some((cover) => {
      if (cover.contains(element)) return false;
      const box = cover.getBoundingClientRect();
      return box.width > 0 && box.left < own.right && box.right > own.left && box.top < own.bottom && box.bottom > own.top;
    });
  };
  // What lies over all of an element that is on the screen: its outermost part that stays where it is or was lifted out of the flow.
  const coveredBy = (element) => {
    let cover = null, points = 0;
    for (const box of [...element.getClientRects()].slice(0, 4)) {
      for (const across of [0.1, 0.5, 0.9]) for (const down of [0.2, 0.5, 0.8]) {
        const x = box.left + box.width * across, y = box.top + box.height * down;
        if (x < 0 || y < 0 || x >= innerWidth || y >= innerHeight) continue;
        const top = document.elementFromPoint(x, y);
        if (top === element || element.contains(top)) return null;
        const pile = document.elementsFromPoint(x, y);
        const at = pile.findIndex((one) => one === element || element.contains(one) || one.shadowRoot);
        if (at < 0) return null;
        const over = pile.slice(0, at).find((one) => !one.contains(element) && paints(one) && !isVeil(one));
        if (!over) return null;
        points += 1;
        cover = cover || over;
      }
    }
    if (!points) return null;
    let outermost = cover;
    for (let here = cover; here && !here.contains(element); here = here.parentElement) if (getComputedStyle(here).position !== "static") outermost = here;
    return outermost;
  };

  if (step === "begin") {
    const outlines = takesOutlinesAway();
    if (!wanted && !outlines && !listensToKeys()) return {needed: false, stops: 0};
    const stops = elements.filter(isStop);
    const still = new CSSStyleSheet();
    still.replaceSync("*, *::before, *::after { transition: none !important; animation: none !important; scroll-behavior: auto !important }");
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, still];
    if (document.activeElement && document.activeElement !== document.body) document.activeElement.blur();
    const indexes = new Map(elements.map((element, index) => [element, index]));
    const before = new Map(), kinds = new Map();
    if (outlines) for (const stop of stops) {
      if (hasCaret(stop) || stop.localName === "iframe") continue;
      const name = kindOf(stop);
      if (!kinds.has(name)) kinds.set(name, {looked: 0, reached: new Map()});
      const kind = kinds.get(name);
      before.set(stop, [kind, kind.looked++ < OF_A_KIND ? look(stop) : null]);
    }
    const covers = lifted();
    const state = {order: [], unseen: new Set(), covered: new Map(), indexes, kinds, still};
    // Where the focus is has been scrolled to by the time that the next key goes down.
    state.look = () => {
      const element = active(), index = indexes.get(element);
      if (index === undefined || state.covered.has(index)) return;
      const by = mayLieUnder(element, covers) ? coveredBy(element) : null;
      if (by) state.covered.set(index, indexes.get(by) ?? -1);
    };
    state.left = (event) => { if (event.key === "Tab") state.look(); };
    addEventListener("keydown", state.left, true);
    state.heard = (event) => {
      const element = event.composedPath()[0];
      const index = indexes.get(element);
      if (index === undefined) return;
      state.order.push(index);
      if (before.has(element)) {
        const [kind, was] = before.get(element);
        kind.reached.set(index, was === null ? null : was !== look(element));
      }
      const box = element.getBoundingClientRect(), computed = getComputedStyle(element);
      const gone = box.right + scrollX <= 0 || box.bottom + scrollY <= 0 || box.width <= 1 || box.height <= 1 || computed.opacity === "0" ||
        (computed.position === "absolute" && /^rect\(0(px)?, 0(px)?, 0(px)?, 0(px)?\)|^rect\(1px, 1px, 1px, 1px\)/.test(computed.clip)) || /inset\((50|100)%/.test(computed.clipPath);
      if (gone) state.unseen.add(index);
    };
    document.addEventListener("focusin", state.heard, true);
    Object.defineProperty(window, KEY, {value: state, configurable: true});
    return {needed: true, stops: sumOf(stops), plain: isPlain()};
  }
  const place = (element) => { const box = element.getBoundingClientRect(); return [box.left + scrollX, box.top + scrollY, box.width, box.height]; };
  if (step === "stop") {
    const now = active();
    return now && now !== document.body && now !== document.documentElement ? {index: elements.indexOf(now), place: place(now)} : null;
  }
  const state = window[KEY];
  // From where one real Tab has led, on to the next stop and the next, each told of Tab as by a key: null where a script
  // answers to that, or the first was another; then real keys have to be pressed.
  if (step === "through") {
    const stops = inOrder(elements.filter((one) => isStop(one) || isScroller(one))).slice(0, wanted);
    const tell = (type, element) => element.dispatchEvent(new KeyboardEvent(type, {key: "Tab", code: "Tab", keyCode: 9, which: 9, bubbles: true, cancelable: true, composed: true}));
    const goOn = () => stops.every((stop, at) => {
      if (!at) return active() === stop;
      if (!tell("keydown", stops[at - 1]) || active() !== stops[at - 1]) return false;
      stop.focus();
      tell("keyup", stop);
      return active() === stop;
    });
    if (stops.length && goOn()) { state.look(); return {order: state.order, active: -1, all: stops.filter(isStop).map((one) => state.indexes.get(one))}; }
    state.order.length = 0;
    for (const known of [state.unseen, state.covered]) known.clear();
    for (const one of state.kinds.values()) one.reached.clear();
    const before = document.createElement("i"); // from where it stood Tab begins
    before.tabIndex = -1;
    document.body.prepend(before);
    before.focus({preventScroll: true});
    before.remove();
    scrollTo(0, 0);
    return null;
  }
  if (step === "where") {
    const now = active();
    return {order: state.order, active: now && now !== document.body ? state.indexes.get(now) ?? -1 : -1,
            all: elements.flatMap((element, index) => (isStop(element) ? [index] : []))};
  }
  if (step === "stops") return sumOf(wanted.map((index) => elements[index]));
  if (step === "dialogs") return wanted.map((index) => Boolean(elements[index].closest("dialog, [role=dialog], [role=alertdialog]")));
  if (step === "focus") { elements[wanted].focus({preventScroll: true}); return place(elements[wanted]); }
  if (step === "place") return place(elements[wanted]);
  if (step === "blur") { if (document.activeElement) document.activeElement.blur(); return null; }
  document.removeEventListener("focusin", state.heard, true);
  removeEventListener("keydown", state.left, true);
  document.adoptedStyleSheets = document.adoptedStyleSheets.filter((sheet) => sheet !== state.still);
  if (document.activeElement && document.activeElement !== document.body) document.activeElement.blur();
  scrollTo(0, 0);
  const kind = (index) => `${elements[index].localName}.${elements[index].className}`;
  const unmarked = [...state.kinds.values()].flatMap(({reached}) => {
    const none = ![...reached.values()].includes(true);
    return [...reached].flatMap(([index, marked]) => (marked === false || (marked === null && none) ? [index] : []));
  });
  return {unmarked: unmarked.map((index) => [index, kind(index)]), unseen: [...state.unseen], covered: [...state.covered]};
}
