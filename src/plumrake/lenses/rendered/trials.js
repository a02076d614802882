// Tries other layouts: the page at 320 px wide (step "narrow", with the viewport already set), text at 200 % ("text"), and
// the text spacing of WCAG 2.2, 1.4.12; "still", "enlarged" and "spaced" leave the page so, for its
// picture. Elements are given by their index in the collector's list.
(step) => {
  const elements = window[Symbol.for("plumrake.elements")] || [];
  const indexes = new Map(elements.map((element, index) => [element, index]));
  const WIDE_BY_NATURE = "table, img, svg, video, canvas, iframe, object, embed, map, math, [role=table], [role=grid], [role=img], [role=toolbar], [role=application], marquee";
  const MOST = 50;
  const range = document.createRange();
  const clips = (value) => value === "hidden" || value === "clip";

  const narrow = () => {
    const width = Math.max(document.documentElement.scrollWidth, document.body ? document.body.scrollWidth : 0);
    const found = [];
    if (width <= innerWidth + 2) return {width: innerWidth, found};
    const limit = innerWidth + 2;
    const outside = new Set();
    for (const element of elements) {
      if (!element.isConnected || element === document.documentElement || element === document.body || element.closest(WIDE_BY_NATURE)) continue;
      const box = element.getBoundingClientRect();
      const computed = getComputedStyle(element);
      const spills = computed.overflowX === "visible" || computed.display === "inline";
      const right = Math.max(box.right, ...(spills ? linesOf(element).map((line) => line.right) : [])) + scrollX;
      if (right <= limit || box.width <= 1 || box.height <= 1) continue;
      if (computed.position === "fixed" || computed.visibility !== "visible") continue;
      let contained = false;
      for (let up = element.parentElement; up && up !== document.body && up !== document.documentElement; up = up.parentElement) {
        if (outside.has(up)) { contained = true; break; }
        const style = getComputedStyle(up);
        if (style.position === "fixed" || (style.overflowX !== "visible" && up.getBoundingClientRect().right + scrollX <= limit)) { contained = true; break; }
      }
      if (contained || !/[\p{L}\p{N}]/u.test(element.innerText || "")) continue;
      if (element.querySelector(WIDE_BY_NATURE) && onlyByNature(element, limit)) continue;
      let holder = element;
      while (holder.parentElement !== document.body && getComputedStyle(holder).display === "inline") holder = holder.parentElement;
      if (outside.has(holder)) continue;
      outside.add(holder);
      found.push([indexes.get(holder), Math.round(right)]);
      if (found.length >= MOST) break;
    }
    return {width, found};
  };
  const onlyByNature = (element, limit) => {
    const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
    while (walker.nextNode()) {
      const text = walker.currentNode;
      if (!/\S/.test(text.data) || text.parentElement.closest(WIDE_BY_NATURE)) continue;
      range.selectNodeContents(text);
      for (const box of range.getClientRects()) if (box.right + scrollX > limit && box.width > 1) return false;
    }
    return true;
  };

  // A text that runs past in a marquee comes into sight by itself, and stands elsewhere each time.
  const owners = elements.filter((element) => !/^(script|style|noscript|option|optgroup|title|template)$/.test(element.localName) && !element.closest("marquee") &&
    [...element.childNodes].some((node) => node.nodeType === 3 && /\S/.test(node.data)));
  const linesOf = (element) => {
    const lines = [];
    for (const node of element.childNodes) {
      if (node.nodeType !== 3 || !/\S/.test(node.data)) continue;
      range.selectNodeContents(node);
      for (const box of range.getClientRects()) if (box.width > 1 && box.height > 1) lines.push(box);
    }
    return lines;
  };
  // What the nearest box around an element is of which `judge` has something to say; kept, since neither larger text nor
  // wider spacing changes it.
  const nearest = (judge) => {
    const kept = new Map();
    return (element) => {
      const path = [];
      let found = null;
      for (let up = element; up && up !== document.body && up !== document.documentElement; up = up.parentElement) {
        if (kept.has(up)) { found = kept.get(up); break; }
        path.push(up);
        const style = getComputedStyle(up);
        if (style.display === "inline" || style.display === "contents" || style.display === "none") continue;
        const said = judge(up, style);
        if (said !== undefined) { found = said; break; }
      }
      for (const one of path) kept.set(one, found);
      return found;
    };
  };
  // The box that cuts off what sticks out of it: none where one can scroll to it.
  const frameOf = nearest((box, style) => {
    if (/(auto|scroll)/.test(style.overflowX + style.overflowY) || (style.position === "fixed" && style.overflowX === "visible")) return null;
    if (clips(style.overflowX) || clips(style.overflowY)) return {element: box, across: clips(style.overflowX), down: clips(style.overflowY)};
  });
  // The box outside of which nothing is seen: cut off, or to be scrolled to.
  const portOf = nearest((box, style) => (style.overflowX !== "visible" || style.overflowY !== "visible" ? box : undefined));
  const common = (one, other) => {
    const left = Math.max(one.left, other.left), right = Math.min(one.right, other.right);
    const top = Math.max(one.top, other.top), bottom = Math.min(one.bottom, other.bottom);
    return {left, right, top, bottom, width: right - left, height: bottom - top};
  };
  const cutBy = (element, lines) => {
    const frame = frameOf(element);
    if (!frame) return null;
    const box = frame.element.getBoundingClientRect();
    if (box.width <= 2 || box.height <= 2) return null;
    let most = 0;
    for (const line of lines) {
      if (frame.down && Math.min(line.bottom - box.bottom, line.height) > 0.3 * line.height) most = Math.max(most, line.bottom - box.bottom);
      if (frame.across && line.right - box.right > 4) most = Math.max(most, line.right - box.right);
    }
    return most ? [frame.element, Math.round(most)] : null;
  };
  // Owners of text that are shown at all; the trials do not change that.
  const shownOwners = () => owners.filter((owner) => {
    if (!owner.checkVisibility()) return false;
    const style = getComputedStyle(owner);
    return style.visibility === "visible" && style.opacity !== "0";
  });
  const measure = (shown) => {
    const cut = new Map(), overlaps = new Map(), bands = new Map(), seen = new Map();
    const seenOf = (port) => {
      if (!seen.has(port)) {
        const box = port.getBoundingClientRect(), around = portOf(port.parentElement);
        seen.set(port, around ? common(box, seenOf(around)) : box);
      }
      return seen.get(port);
    };
    for (const owner of shown) {
      const lines = linesOf(owner);
      if (!lines.length) continue;
      const found = cutBy(owner, lines);
      if (found && !cut.has(found[0])) cut.set(found[0], found[1]);
      if (found || owner.closest("[aria-hidden=true]")) continue;
      const port = portOf(owner);
      for (const whole of lines) {
        const line = port ? common(whole, seenOf(port)) : whole;
        if (line.width <= 1 || line.height <= 1) continue;
        if (line.right + scrollX <= 0 || line.bottom + scrollY <= 0) continue;
        for (let band = Math.floor(line.top / 64); band <= Math.floor(line.bottom / 64); band++) {
          if (!bands.has(band)) bands.set(band, []);
          for (const [other, box] of bands.get(band)) {
            if (other === owner || overlaps.has(owner) || other.contains(owner) || owner.contains(other)) continue;
            const wide = Math.min(line.right, box.right) - Math.max(line.left, box.left);
            const high = Math.min(line.bottom, box.bottom) - Math.max(line.top, box.top);
            if (wide > 4 && high > 0.3 * Math.min(line.height, box.height) && !passesOver(owner) && !passesOver(other)) overlaps.set(owner, other);
          }
          bands.get(band).push([owner, line]);
        }
      }
    }
    return {cut, overlaps};
  };
  const passesOver = (element) => {
    for (let up = element; up && up !== document.body; up = up.parentElement) {
      const style = getComputedStyle(up);
      if (/fixed|sticky/.test(style.position) || style.clip !== "auto" || style.clipPath !== "none" || style.opacity === "0" || style.overflow === "hidden" && up.offsetWidth <= 2) return true;
    }
    return false;
  };
  const compare = (before, after) => {
    const found = [];
    for (const [frame, pixels] of after.cut) if (!before.cut.has(frame)) found.push([indexes.get(frame), "cut", -1, pixels]);
    for (const [owner, other] of after.overlaps) if (!before.overlaps.has(owner)) found.push([indexes.get(owner), "overlap", indexes.get(other), 0]);
    return found.filter(([index]) => index !== undefined).sort((one, other) => one[0] - other[0]).slice(0, MOST);
  };

  // Text can be cut off or run into other text only where something keeps a box from growing with it.
  const keepsFromGrowing = () => elements.some((element) => {
    if (!(element instanceof HTMLElement) || !element.firstChild || element === document.documentElement || element === document.body) return false;
    const style = getComputedStyle(element);
    if (style.display === "none" || style.display === "contents") return false;
    if (style.display === "inline") return style.position !== "static" && (style.top !== "auto" || style.bottom !== "auto");
    if (clips(style.overflowX) || clips(style.overflowY) || style.position === "absolute" || style.position === "fixed") return true;
    if (style.position === "relative" && (parseFloat(style.top) || parseFloat(style.bottom))) return true;
    if (parseFloat(style.marginTop) < 0 || parseFloat(style.marginBottom) < 0 || style.transform !== "none" || style.maxHeight !== "none") return true;
    const height = element.computedStyleMap().get("height");
    if (height && String(height) !== "auto" && !/^(img|svg|canvas|video|iframe|input|select|textarea|hr)$/.test(element.localName)) return true;
    return /grid/.test(style.display) && String(element.computedStyleMap().get("grid-template-rows")) !== "none";
  });

  // Doubles all text of the page; returns what was set, with what had stood there.
  const doubleText = () => {
    // Set where size or line height differs from the parent's; everything else inherits.
    const computed = new Map(elements.map((element) => { const style = getComputedStyle(element); return [element, [style.fontSize, style.lineHeight]]; }));
    const sizes = [];
    for (const [element, [size, height]] of computed) {
      const above = computed.get(element.parentElement);
      if (element instanceof HTMLElement && (!above || above[0] !== size || above[1] !== height)) sizes.push([element, parseFloat(size), parseFloat(height), element.getAttribute("style")]);
    }
    for (const [element, size, height] of sizes) {
      element.style.setProperty("font-size", `${2 * size}px`, "important");
      if (height) element.style.setProperty("line-height", `${2 * height}px`, "important");
    }
    // What has a size of its own that happens to be its parent's did not follow: set it as well.
    const behind = [...computed].filter(([element, [size, height]]) => {
      if (!(element instanceof HTMLElement)) return false;
      const style = getComputedStyle(element);
      return Math.abs(parseFloat(style.fontSize) - 2 * parseFloat(size)) > 0.5 || (parseFloat(height) && Math.abs(parseFloat(style.lineHeight) - 2 * parseFloat(height)) > 1);
    });
    for (const [element, [size, height]] of behind) {
      sizes.push([element, parseFloat(size), parseFloat(height), element.getAttribute("style")]);
      element.style.setProperty("font-size", `${2 * parseFloat(size)}px`, "important");
      if (parseFloat(height)) element.style.setProperty("line-height", `${2 * parseFloat(height)}px`, "important");
    }
    return sizes;
  };
  const STILL = "*, *::before, *::after { transition: none !important; animation: none !important; ";
  const SPACED = "line-height: 1.5 !important; letter-spacing: 0.12em !important; word-spacing: 0.16em !important } p { margin-bottom: 2em !important }";
  const adopt = (text) => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(text);
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
    return sheet;
  };

  // The page is left as it is then, to be pictured.
  if (["still", "enlarged", "spaced"].includes(step)) {
    adopt(STILL + (step === "spaced" ? SPACED : "}"));
    if (step === "enlarged") doubleText();
    return null;
  }
  if (step === "narrow") return narrow();
  if (!keepsFromGrowing()) return {doubled: [], spaced: []};
  const still = adopt(STILL + "}");
  try {
    const shown = shownOwners();
    const before = measure(shown);
    const sizes = doubleText();
    const doubled = compare(before, measure(shown));
    for (const [element, , , written] of sizes.reverse()) { if (written === null) element.removeAttribute("style"); else element.setAttribute("style", written); }
    still.replaceSync(STILL + SPACED);
    return {doubled, spaced: compare(before, measure(shown))};
  } finally {
    document.adoptedStyleSheets = document.adoptedStyleSheets.filter((sheet) => sheet !== still);
  }
}
