// Waits until pictures are decoded, those put off by loading="lazy" too; gives for each whether it is no longer on its way.
async ([indices, milliseconds]) => {
  const elements = window[Symbol.for("plumrake.elements")] || [];
  const end = new Promise((settle) => setTimeout(() => settle(false), milliseconds));
  const drawn = (element) => {
    if (!(element instanceof HTMLImageElement)) return true;
    element.loading = "eager";
    return Promise.race([element.decode().then(() => true, () => element.complete), end]); // a broken one comes no more either
  };
  return Promise.all(indices.map((index) => drawn(elements[index])));
}
