"""Page views: the same page as others meet it. Each gives plain rows; showing them is for
others."""

from plumrake.core.views.colours import colours
from plumrake.core.views.focus import focus
from plumrake.core.views.heard import heard, order
from plumrake.core.views.lists import links, names, pictures
from plumrake.core.views.outline import outline

VIEWS = {
    "outline": outline,
    "heard": heard,
    "order": order,
    "links": links,
    "pictures": pictures,
    "colours": colours,
    "names": names,
    "focus": focus,
}
"""Every view by its name: from a page to its rows."""
