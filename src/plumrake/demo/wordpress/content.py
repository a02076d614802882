"""The Tarn Vale Botanic Garden: a made-up garden's site, with faults as people make them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from plumrake.demo.wordpress.blocks import (
    block,
    button,
    coloured,
    columns,
    cover,
    gallery,
    heading,
    items,
    paragraph,
    picture,
    plan_your_visit,
    table,
)

AUTHORS: Final = {
    "orla": ("Orla Fenwick", "editor"),
    "bram": ("Bram Tolley", "author"),
    "suki": ("Suki Ardenne", "author"),
    "iwan": ("Iwan Pryce", "author"),
    "nadia": ("Nadia Quill", "author"),
    "tess": ("Tess Marlow", "author"),
}
"""Who writes: their sign-in name, what they are called, their role."""
PICTURES: Final = {
    "glasshouse": ("#5b8c5a", "The glasshouse from the pond, its west door open"),
    "fernery": ("#2f5d3a", "Tree ferns on both sides of the fernery path"),
    "orchard": ("#a85c32", ""),
    "rosebed": ("#b03a5b", ""),
    "pond": ("#3a6ea5", "Water lilies on the pond"),
    "bench": ("#7d6b57", ""),
    "seedbank": ("#c9a227", "Glass jars of seed on a shelf"),
    "gate": ("#444c5c", "The iron gate on Mill Lane"),
    "heron": ("#5a6e7f", "heron-final-2.jpg"),
}
"""Pictures of the media library: their colour, and the text that they have there."""


@dataclass(frozen=True, slots=True)
class Item:
    """An item: its type, status, slug, title, who wrote it, its content, and the picture that it is
    featured with."""

    type: str
    status: str
    slug: str
    title: str
    author: str
    content: str
    featured: str = ""

    @classmethod
    def of(cls, kind: str, slug: str, title: str, author: str, *blocks: str, **more: str) -> Item:
        """Return an item made of blocks; ``kind`` is type and status."""
        type_, _, status = kind.partition(" ")
        return cls(type_, status or "publish", slug, title, author, "\n\n".join(blocks), **more)


_PLANTS = (
    ("Witch hazel", "witch-hazel", "Its yellow threads open in January, before any leaf."),
    ("Handkerchief tree", "handkerchief-tree", "White bracts hang below its branches in May."),
    ("Himalayan poppy", "himalayan-poppy", "It wants cool summers and soil that never dries."),
    ("Giant lily", "giant-lily", "It flowers once after seven years, and then it dies."),
    ("Snake bark maple", "snake-bark-maple", "Green bark with white lines down the whole stem."),
    ("Autumn crocus", "autumn-crocus", "The flower stands alone; the leaves come in spring."),
    ("Royal fern", "royal-fern", "It grows along the stream and turns copper in October."),
    ("Winter aconite", "winter-aconite", "A carpet of yellow under the beeches in February."),
)
_DIARY = (
    ("Frost on the rose bed", "frost-on-the-rose-bed", "bram", "We covered the young roses."),
    ("The pond is cleared", "the-pond-is-cleared", "suki", "Six people took out the weed by hand."),
    ("A new roof for the fernery", "new-roof-for-the-fernery", "iwan", "The glass came on Monday."),
    ("Seed from nine gardens", "seed-from-nine-gardens", "nadia", "Ninety packets were sorted."),
    ("Bees in the orchard", "bees-in-the-orchard", "tess", "Two hives stand by the north wall."),
    ("Paths after the storm", "paths-after-the-storm", "bram", "The lower path is closed."),
    ("Pruning the old pears", "pruning-the-old-pears", "suki", "Each tree took half a day."),
    ("Labels for the beds", "labels-for-the-beds", "iwan", "Slate lasts longer than zinc."),
    ("Tulips are planted", "tulips-are-planted", "nadia", "Four thousand went in within a week."),
    ("The compost is ready", "the-compost-is-ready", "tess", "It was turned three times."),
)
_MORE = "More of what we do stands in the diary, which somebody of the garden writes each week."
_GOOD: Final = (
    *(
        Item.of("plant", slug, name, "orla", paragraph(says), paragraph(_MORE))
        for name, slug, says in _PLANTS
    ),
    *(
        Item.of("post", slug, title, author, paragraph(says), paragraph(_MORE))
        for title, slug, author, says in _DIARY
    ),
)
_PRICES = [["Ticket", "Price"], ["Adult", "9.50"], ["Child", "4.00"], ["Family", "22.00"]]
_PAGES: Final = (
    Item.of(
        "page",
        "welcome",
        "Welcome to the garden",
        "orla",
        paragraph("Forty acres of trees, ponds and glass between the mill and the tarn."),
        heading("Open today"),
        paragraph("From nine until dusk. The glasshouse closes an hour earlier."),
        heading("What is in flower"),
        paragraph('Read it in <a href="/diary/">the diary of the gardeners</a>.'),
    ),
    Item.of("page", "diary", "Diary", "orla", ""),
    Item.of(
        "page",
        "prices",
        "Prices",
        "bram",
        paragraph("Prices for the season, in pounds."),
        table(_PRICES, head=False),
        paragraph('Members come in free: <a href="/membership/">click here</a>.'),
    ),
    Item.of(
        "page",
        "membership",
        "Membership",
        "suki",
        heading("What members get"),
        items("Free entry all year", "A guest on Sundays", "The seed list in January"),
        heading("How to join", 4),
        paragraph("Fill in the form at the gate, or write to us."),
        button("Join as a member", "/contact/"),
    ),
    Item.of(
        "page",
        "contact",
        "Contact",
        "orla",
        paragraph('Write to <a href="mailto:garden@tarnvale.example">garden@tarnvale.example</a>.'),
        coloured("We answer within three working days.", "#b8b8b8"),
    ),
    Item.of(
        "page",
        "getting-here",
        "Getting here",
        "iwan",
        paragraph("<strong>By train</strong>"),
        paragraph("From the station it is a walk of ten minutes along the river."),
        paragraph("<strong>By bus</strong>"),
        paragraph("The bus stops at Mill Lane, beside the iron gate."),
        picture("gate", "The iron gate on Mill Lane"),
        plan_your_visit(),
    ),
    Item.of(
        "page",
        "rules",
        "Rules of the garden",
        "nadia",
        paragraph("- Keep to the paths<br>- No dogs in the glasshouse<br>- Pick nothing"),
        paragraph("Thank you for leaving the garden as it is."),
    ),
    Item.of(
        "page",
        "gallery",
        "Pictures of the garden",
        "tess",
        gallery(
            picture("glasshouse", "The glasshouse from the pond, its west door open"),
            picture("orchard", None),
            picture("rosebed", "rosebed-final-2.jpg"),
        ),
    ),
    Item.of(
        "page",
        "glasshouse",
        "The glasshouse",
        "suki",
        columns(
            picture("fernery", "Tree ferns on both sides of the fernery path"),
            paragraph('Warm all year. <a href="/prices/">Read more</a>'),
        ),
        block(
            "html",
            "<table><tr><td>Morning</td><td>18 °C</td></tr><tr><td>Noon</td><td>24 °C</td></tr>"
            "</table>",
        ),
    ),
    Item.of(
        "page",
        "history",
        "History",
        "orla",
        heading("The first garden", 2),
        paragraph("It was laid out for the mill in the year that the railway came."),
        heading("", 3),
        paragraph("In 1931 the town bought the land and opened it to everybody."),
        cover(
            "seedbank",
            paragraph('Our oldest seeds: <a href="/seed-from-nine-gardens/">see more</a>'),
        ),
    ),
)
_FAULTY: Final = (
    Item.of(
        "post",
        "orchard-day",
        "Orchard day",
        "tess",
        paragraph("Forty kinds of apples can be tasted on the second Saturday of October."),
        picture("orchard", None),
        paragraph('The programme is <a href="/wp-content/uploads/programme.pdf">here</a>.'),
    ),
    Item.of(
        "post",
        "spring-fair",
        "Spring fair",
        "nadia",
        heading("Stalls", 5),
        paragraph("Eleven nurseries bring what they grow."),
        coloured("Entry is free for members.", "#9bd19b"),
        featured="heron",
    ),
    Item.of(
        "post",
        "茶室",
        "茶室 – the tea house",
        "bram",
        paragraph("Cake at the café – “the best of the vale”, says everybody who had some."),
        picture("bench", None),
    ),
    Item.of(
        "post",
        "evening-walks",
        "Evening walks",
        "iwan",
        paragraph("On Thursdays in June the garden stays open until ten."),
        paragraph(""),
        paragraph('Tickets: <a href="/prices/">more</a>'),
        plan_your_visit(),
        featured="pond",
    ),
)
_UNPUBLISHED: Final = (
    Item.of(
        "post draft",
        "lantern-night",
        "Lantern night",
        "suki",
        paragraph("Bring a lantern; the path around the pond is dark."),
        picture("pond", None),
        paragraph('Book <a href="/contact/">here</a>.'),
    ),
    Item.of(
        "post draft",
        "mushroom-walk",
        "Mushroom walk",
        "iwan",
        paragraph("With a guide from the fungus club. Baskets are lent out."),
    ),
    Item.of(
        "post pending",
        "winter-opening",
        "Winter opening",
        "tess",
        heading("Hours", 4),
        table([["Day", "Hours"], ["Saturday", "10 to 4"], ["Sunday", "11 to 4"]], head=False),
    ),
    Item.of(
        "post pending",
        "apprentices",
        "Two apprentices wanted",
        "nadia",
        paragraph("We teach for three years, with a room above the old stables."),
    ),
    Item.of(
        "page draft",
        "weddings",
        "Weddings",
        "bram",
        paragraph("The rose bed can be hired for an afternoon."),
        coloured("Ask early: Saturdays go first.", "#c7c7c7"),
    ),
    Item.of(
        "post future",
        "snowdrop-week",
        "Snowdrop week",
        "orla",
        paragraph("The snowdrops under the limes are at their best this week."),
        picture("bench", None),
    ),
    Item.of(
        "post future",
        "seed-swap",
        "Seed swap",
        "tess",
        paragraph("Bring what you have too much of, and take what you lack."),
    ),
    Item.of(
        "plant draft",
        "corpse-flower",
        "Corpse flower",
        "orla",
        paragraph("It opened last in the warm house, and nobody stayed for long."),
        picture("fernery", "img_2041.jpg"),
    ),
)
ITEMS: Final = (*_GOOD, *_PAGES, *_FAULTY, *_UNPUBLISHED)
"""All items, the public ones first."""
