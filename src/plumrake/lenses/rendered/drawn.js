// Waits until pictures are there, those put off by loading="lazy" too; gives for each whether it is no longer on its way.
async ([indices, milliseconds]) => {
  const elements = window[Symbol.for("plumrake.elements")] || [];
  const end = new Promise((settle) => setTimeout(() => settle(false), milliseconds));
  const there = (element) => {
    if (!(element instanceof HTMLImageElement)) return true;
    element.loading = "eager";
    if (element.complete) return true; // a broken one comes no more either
    const arrives = new Promise((settle) => { for (const kind of ["load", "error"]) element.addEventListener(kind, () => settle(true), {once: true}); });
    return Promise.race([arrives, end]);
  };
  return Promise.all(indices.map((index) => there(elements[index])));
}
