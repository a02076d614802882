// Where elements are now on the page, as [x, y] in CSS px; null for what is no longer there, and for pictures that did not load.
(indices) => {
  const elements = window[Symbol.for("plumrake.elements")] || [];
  return indices.map((index) => {
    const element = elements[index];
    if (!element || !element.isConnected) return null;
    if (element instanceof HTMLImageElement && element.complete && !element.naturalWidth && !element.naturalHeight) return null;
    const box = element.getBoundingClientRect();
    return [box.left + scrollX, box.top + scrollY];
  });
}
