// Lets pictures come that loading="lazy" puts off, so that nothing moves once the page is read; the attribute is as written in the end.
async (milliseconds) => {
  const late = [...document.querySelectorAll("img[loading]")].filter((one) => one.loading === "lazy" && !one.complete).slice(0, 500);
  const written = late.map((one) => one.getAttribute("loading"));
  const end = new Promise((settle) => setTimeout(settle, milliseconds));
  const arrivals = late.map((one) => new Promise((settle) => {
    for (const kind of ["load", "error"]) one.addEventListener(kind, settle, {once: true});
    one.loading = "eager";
    if (one.complete) settle();
  }));
  if (late.length) await Promise.race([Promise.all(arrivals), end]);
  late.forEach((one, at) => one.setAttribute("loading", written[at]));
}
