"""Pages are read as nobody points at them."""

from __future__ import annotations

from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import PageReader

ADDRESS = "http://pages.invalid/page"
PAGE = b"""<!doctype html><html lang=en><title>Pointed at</title>
<style>
body { margin: 0 } a { display: block; height: 60px; color: rgb(0, 80, 0) }
a:hover { color: rgb(255, 0, 0) }
</style>
<a href=/>Home</a>
<p id=told></p>
<script>
const met = [];
for (const kind of ["mouseover", "mouseout", "mouseleave"])
  document.addEventListener(kind, (event) => met.push(event.type), true);
addEventListener("load", () => setTimeout(() => {
  document.getElementById("told").textContent = met.join(" ") || "nothing";
  document.body.id = "ready";
}, 200));
</script>"""


async def test_what_lies_in_the_corner_is_not_hovered() -> None:
    """Nor do the page's scripts hear of a pointer that comes or goes."""
    options = ReadOptions(pixels=False, keyboard=False, zoom=False, wait_for="#ready")
    async with PageReader("rendered") as reader:
        obtained = await reader.read_html(PAGE, ADDRESS, options)
    page = obtained.page
    assert page is not None
    colours = [one.style.color for one in page.elements if one.tag == "a" and one.style is not None]
    assert colours == ["rgb(0, 80, 0)"]
    told = page.by_id("told")
    assert told is not None
    assert told.text() == "nothing"
