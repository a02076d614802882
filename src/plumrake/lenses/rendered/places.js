// Where elements are now on the page, as [x, y] in CSS px; null for what is no longer there.
(indices) => {
  const elements = window[Symbol.for("plumrake.elements")] || [];
  return indices.map((index) => {
    const element = elements[index];
    if (!element || !element.isConnected) return null;
    const box = element.getBoundingClientRect();
    return [box.left + scrollX, box.top + scrollY];
  });
}
