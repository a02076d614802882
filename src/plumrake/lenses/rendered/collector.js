// Runs in the page after it has loaded. Returns one JSON string: interned strings, interned style tuples and a flat
// row of integers per node. plumrake/lenses/rendered/decode.py reads it; the two change together.
//
// element: 1, parent, tag, namespace, scope, style, x, y, w, h, before, after, value, listeners, placeholder, attributes, (name, value)*
// text:    0, parent, data, lines, (x, y, w, h)*
// Boxes are tenths of a CSS px in page coordinates; -1 stands for "none" where an index is meant.
async ([properties, mostElements]) => {
  const TENTH = 10;
  const NAMESPACES = {"http://www.w3.org/1999/xhtml": 0, "http://www.w3.org/2000/svg": 1, "http://www.w3.org/1998/Math/MathML": 2};
  const strings = [], stringIndex = new Map(), styles = [], styleIndex = new Map(), nodes = [];
  const scopes = new Map([[document, 0]]);
  const heard = window[Symbol.for("plumrake.listeners")] || new WeakMap();

  const drawnIn = performance.getEntriesByType("resource").map((entry) => [entry.initiatorType, entry.name]);

  const intern = (text) => {
    let at = stringIndex.get(text);
    if (at === undefined) { at = strings.length; strings.push(text); stringIndex.set(text, at); }
    return at;
  };
  const internStyle = (computed) => {
    const tuple = properties.map((name) => intern(computed.getPropertyValue(name)));
    const key = tuple.join();
    let at = styleIndex.get(key);
    if (at === undefined) { at = styles.length; styles.push(tuple); styleIndex.set(key, at); }
    return at;
  };
  const place = (box) => [
    Math.round((box.left + scrollX) * TENTH), Math.round((box.top + scrollY) * TENTH),
    Math.round(box.width * TENTH), Math.round(box.height * TENTH)];
  const generated = (element, which) => {
    const computed = getComputedStyle(element, which);
    const content = computed.content;
    if (content === "none" || content === "normal" || computed.display === "none") return -1;
    const alternative = content.match(/\/\s*((?:"(?:[^"\\]|\\.)*"\s*)+)$/);
    const shown = alternative ? alternative[1] : content;
    const text = (shown.match(/"(?:[^"\\]|\\.)*"/g) || []).map((quoted) => quoted.slice(1, -1).replace(/\\(.)/g, "$1")).join("");
    if (text === "") return -1;
    return intern(/^inline/.test(computed.display) ? text : ` ${text} `);
  };
  // Which elements a rule with ::before or ::after could match; null where a style sheet cannot be looked into.
  const withGenerated = () => {
    const found = new Set();
    const look = (rules) => {
      for (const rule of rules) {
        if (rule.cssRules && rule.cssRules.length) look(rule.cssRules);
        if (rule.styleSheet) look(rule.styleSheet.cssRules);
        if (!rule.selectorText || !/:(before|after)\b/.test(rule.selectorText)) continue;
        if (rule.parentRule && rule.parentRule.selectorText) throw new Error("nested");
        for (const one of rule.selectorText.split(",")) {
          if (!/:(before|after)\b/.test(one)) continue;
          for (const element of document.querySelectorAll(one.replace(/::?(before|after)\b.*$/, "").trim().replace(/^$|([\s>+~])$/, "$1*"))) found.add(element);
        }
      }
    };
    try { for (const sheet of [...document.styleSheets, ...document.adoptedStyleSheets]) look(sheet.cssRules); } catch { return null; }
    return found;
  };
  const mayGenerate = withGenerated();
  const valueOf = (element) => {
    if (element instanceof HTMLTextAreaElement) return intern(element.value);
    if (element instanceof HTMLSelectElement) return intern([...element.selectedOptions].map((option) => option.label).join(" "));
    if (!(element instanceof HTMLInputElement) || /^(password|hidden|file|checkbox|radio|color|range|image)$/.test(element.type)) return -1;
    if (element.value === "" && !element.hasAttribute("value") && /^(submit|reset)$/.test(element.type)) return intern(element.type === "submit" ? "Submit" : "Reset");
    return intern(element.value);
  };
  const listenersOf = (element) => {
    let bits = heard.get(element) || 0;
    if (element.onclick || element.onmousedown || element.onmouseup || element.onpointerdown || element.onpointerup || element.ondblclick) bits |= 1;
    if (element.onkeydown || element.onkeyup || element.onkeypress) bits |= 2;
    return bits;
  };
  const placeholderOf = (element) => {
    if (!element.placeholder || element.value !== "" || !/^(input|textarea)$/.test(element.localName)) return -1;
    const computed = getComputedStyle(element, "::placeholder");
    return computed.opacity === "0" ? -1 : intern(`${computed.color}|${computed.opacity}|${computed.fontSize}|${computed.fontWeight}`);
  };
  // Which pictures are GIFs of several frames: the bytes are in the cache, the number is bounded.
  const moving = new Set();
  const findMoving = async () => {
    const gifs = [...document.images].filter((image) => /\.gif([?#]|$)/i.test(image.currentSrc) && image.naturalWidth > 16 && image.naturalHeight > 16).slice(0, 12);
    await Promise.all(gifs.map(async (image) => {
      try {
        const bytes = new Uint8Array(await (await fetch(image.currentSrc)).arrayBuffer());
        let frames = 0;
        for (let at = 0; at + 9 < bytes.length && frames < 2; at++) {
          if (bytes[at] === 0 && bytes[at + 1] === 0x21 && bytes[at + 2] === 0xf9 && bytes[at + 3] === 4 && bytes[at + 8] === 0) frames++;
        }
        if (frames > 1) moving.add(image);
      } catch { /* from elsewhere: cannot be told */ }
    }));
  };
  const scopeOf = (node) => {
    const root = node.getRootNode();
    if (!scopes.has(root)) scopes.set(root, scopes.size);
    return scopes.get(root);
  };
  const childrenOf = (element) => {
    if (element.shadowRoot) return element.shadowRoot.childNodes;
    if (element.localName === "slot") {
      const given = element.assignedNodes({flatten: true});
      if (given.length) return given;
    }
    return element.childNodes;
  };

  const range = document.createRange();
  let count = 0;
  const addText = (node, parent, rendered) => {
    const lines = [];
    if (rendered && /\S/.test(node.data)) {
      range.selectNodeContents(node);
      for (const box of range.getClientRects()) if (box.width > 0 && box.height > 0) lines.push(...place(box));
    }
    nodes.push(0, parent, intern(node.data), lines.length / 4, ...lines);
  };
  const addElement = (element, parent, inRendered, scoped) => {
    const computed = inRendered ? getComputedStyle(element) : null;
    const rendered = inRendered && computed.display !== "none";
    const hasBox = rendered && computed.display !== "contents";
    const attributes = [];
    for (const {name, value} of element.attributes) attributes.push(intern(name), intern(value));
    const pseudo = rendered && !element.shadowRoot && (scoped || mayGenerate === null || mayGenerate.has(element));
    nodes.push(
      1, parent, intern(element.localName), NAMESPACES[element.namespaceURI] ?? 0, scoped ? scopeOf(element) : 0,
      computed ? internStyle(computed) : -1, ...(hasBox ? place(element.getBoundingClientRect()) : [0, 0, -1, -1]),
      pseudo ? generated(element, "::before") : -1, pseudo ? generated(element, "::after") : -1,
      valueOf(element), listenersOf(element) | (moving.has(element) ? 4 : 0), placeholderOf(element), attributes.length / 2, ...attributes);
    elements.push(element);
    return rendered;
  };

  const capped = (promise, ms) => Promise.race([promise, new Promise((done) => setTimeout(done, ms))]);
  await capped(document.fonts.ready, 2000);
  for (const animation of document.getAnimations()) {
    try { if (animation.effect.getComputedTiming().endTime !== Infinity) animation.finish(); } catch { /* cannot be ended: left as it is */ }
  }
  await capped(findMoving(), 1000);
  const elements = [];
  Object.defineProperty(window, Symbol.for("plumrake.elements"), {value: elements, configurable: true});
  const stack = [[document.documentElement, -1, true, false]];
  while (stack.length) {
    const [node, parent, inRendered, scoped] = stack.pop();
    if (node.nodeType === Node.TEXT_NODE) { addText(node, parent, inRendered); continue; }
    if (node.nodeType !== Node.ELEMENT_NODE) continue;
    const index = count++;
    if (count > mostElements) return JSON.stringify({tooMany: true});
    const rendered = addElement(node, parent, inRendered, scoped);
    const children = childrenOf(node), inShadow = scoped || !!node.shadowRoot;
    for (let at = children.length - 1; at >= 0; at--) stack.push([children[at], index, rendered, inShadow]);
  }
  return JSON.stringify({strings, styles, nodes, viewport: [innerWidth, innerHeight], drawnIn});
}
