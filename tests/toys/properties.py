"""A property of the toy artwork, and one of the toy effect."""

from deftarc.core.document.properties.property import PROPERTIES, Property

PROPERTIES.add(
    Property(
        "petals", "Petals", "", (6.0,), owner="artwork", drives="outline", page="look", row="Petals", low=3, high=40,
        decimals=0, traits=frozenset(("whole",)),
    )
)  # fmt: skip
PROPERTIES.add(
    Property(
        "haze_amount", "Haze", "px", (5.0,), owner="effect", drives="effect", page="look", row="Amount", field="amount",
        low=0, high=200,
    )
)  # fmt: skip
