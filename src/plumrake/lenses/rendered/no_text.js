// Makes all text transparent and back again, in open shadow trees too.
([step, rules]) => {
  const KEY = Symbol.for("plumrake.no-text");
  const elements = window[Symbol.for("plumrake.elements")] || [];
  const roots = [document, ...elements.filter((element) => element.shadowRoot).map((element) => element.shadowRoot)];
  if (step === "on") {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(rules);
    Object.defineProperty(window, KEY, {value: sheet, configurable: true});
    for (const root of roots) root.adoptedStyleSheets = [...root.adoptedStyleSheets, sheet];
  } else {
    for (const root of roots) root.adoptedStyleSheets = root.adoptedStyleSheets.filter((sheet) => sheet !== window[KEY]);
  }
}
