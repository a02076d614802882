// The address of each picture's file as the browser chose it; "" for what has none.
(indices) => {
  const elements = window[Symbol.for("plumrake.elements")] || [];
  return indices.map((index) => {
    const element = elements[index];
    if (!element || !element.isConnected) return "";
    if (element.localName === "img") return element.currentSrc || "";
    return element.localName === "input" ? element.src || "" : "";
  });
}
