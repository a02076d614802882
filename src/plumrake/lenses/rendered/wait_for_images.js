// Waits until pictures are there, those put off by loading="lazy" too, whose attribute is as written in the end: the elements of these
// indices, or, without indices, all that are put off. Gives for each whether it is no longer on its way.
async ([indices, milliseconds]) => {
  const elements = window[Symbol.for("plumrake.elements")] || [];
  const late = () => [...document.querySelectorAll("img[loading]")].filter((one) => one.loading === "lazy" && !one.complete).slice(0, 500);
  const wanted = indices ? indices.map((index) => elements[index]) : late();
  const end = new Promise((settle) => setTimeout(() => settle(false), milliseconds));
  const arrival = (element) => new Promise((settle) => {
    for (const kind of ["load", "error"]) element.addEventListener(kind, () => settle(true), {once: true}); // a broken one comes no more either
    element.loading = "eager";
    if (element.complete) settle(true);
  });
  return Promise.all(wanted.map(async (element) => {
    if (!(element instanceof HTMLImageElement) || element.complete) return true;
    const written = element.getAttribute("loading");
    const there = await Promise.race([arrival(element), end]);
    if (written === null) element.removeAttribute("loading");
    else element.setAttribute("loading", written);
    return there;
  }));
}
