"""The figures of how a layer looks: its outline, gradients, masks, what it shows through, its effects."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork import ArtworkBase, Bursts, Painted
from deftarc.core.document.artwork.gradient import PAINTED
from deftarc.core.document.properties import PROPERTIES
from deftarc.web.panels.figures.numbers import Row, row_of, rows_of

Values = dict[str, tuple[float, ...]]


@dataclass(frozen=True)
class Listed:
    """A mask, an effect or a gradient as it is listed, with its numbers and what else of it is chosen."""

    id: str
    label: str
    on: bool
    rows: list[Row]
    icon: str = ""
    #: By field, what is chosen and what could be: (value, words).
    choices: dict[str, tuple[str, list[tuple[str, str]]]] = field(default_factory=dict)
    mode: str = ""
    rule: str = ""
    inverted: bool = False
    #: Of a gradient, its stops.
    stops: list["Listed"] = field(default_factory=list)


@dataclass(frozen=True)
class LookFigures:
    outline: list[Row]
    dashes: list[Row]
    gradients: list[Listed]
    masks: list[Listed]
    effects: list[Listed]
    #: What it shows through: id, name and by what; and by whom it is shown through, in words.
    matte: tuple[str, str, str, bool] | None
    through: tuple[str, ...]
    blend: str
    smears: bool
    #: Of bursts: the layer where they are born, and the one whose artwork they show, with their names.
    source: tuple[str, str] | None = None
    shaped: tuple[str, str] | None = None

    def shape(self, rows: Callable[[list[Row]], Any]) -> tuple[Any, ...]:
        """All that it is drawn from but the numbers."""

        def told(each: Listed) -> tuple[Any, ...]:
            return (each.id, each.label, each.on, rows(each.rows), each.choices, each.mode, each.rule,
                    each.inverted, [told(stop) for stop in each.stops])  # fmt: skip

        lists = (self.gradients, self.masks, self.effects)
        return (
            rows(self.outline), rows(self.dashes), [[told(each) for each in one] for one in lists], self.matte,
            self.through, self.blend, self.smears, self.source, self.shaped,
        )  # fmt: skip


def look_figures(scene: Scene, layer: Layer, time: int, values: Values) -> LookFigures:
    """How a layer looks at a time, in figures."""

    def row(names: tuple[str, ...], label: str = "") -> Row:
        return row_of(layer, label or PROPERTIES[names[0]].row, names, time, values, scene.half)

    art = layer.artwork
    gradients: list[Listed] = []
    dashes: list[Row] = []
    if isinstance(art, Painted):
        dashes = [
            row((f"dash/{n}/dash_length",), f"{'Gap' if n % 2 else 'Dash'} {n // 2 + 1}" if len(art.dash) > 2 else
                ("Gap" if n % 2 else "Dash"))
            for n in range(len(art.dash))
        ]  # fmt: skip
        for of in PAINTED:
            found = art.gradient(of)
            if found is None:
                continue
            ends = [row((f"gradient/{of}/gradient_x{n}", f"gradient/{of}/gradient_y{n}"),
                        {1: "From", 2: "To"}[n] if found.kind == "linear" else {1: "Middle", 2: "Rim"}[n])
                    for n in (1, 2)]  # fmt: skip
            stops = [
                Listed(each.id, f"Stop {n}", True, [row((name,)) for name in each.properties])
                for n, each in enumerate(found.stops, 1)
            ]
            gradients.append(Listed(of, of.capitalize(), True, ends, mode=found.kind, stops=stops))
    masks = [
        Listed(each.id, each.name, each.on, [row((name,)) for name in each.properties], mode=each.mode,
               rule=each.rule, inverted=each.inverted)
        for each in layer.masks
    ]  # fmt: skip
    effects = [
        Listed(
            each.id, each.label, each.on,
            [row((name,)) for own, name in zip(each.keyable, each.properties, strict=True) if each.counts(own)],
            each.icon,
            {name: (str(getattr(each, name)), list(words.items())) for name, words in each.choices.items()},
        )
        for each in layer.effects
    ]  # fmt: skip
    matte = None
    if layer.matte is not None:
        matte = (layer.matte.layer, scene.layer(layer.matte.layer).name, layer.matte.by, layer.matte.inverted)
    through = tuple(each.name for each in scene.layers if each.matte is not None and each.matte.layer == layer.id)
    return LookFigures(
        rows_of(layer, time, values, "look", scene.half, "outline"), dashes, gradients, masks, effects, matte, through,
        layer.blend, layer.smears, *_named(scene, art),
    )  # fmt: skip


def _named(scene: Scene, art: ArtworkBase) -> tuple[tuple[str, str] | None, tuple[str, str] | None]:
    """The layers that bursts name, where they are there."""
    names = {layer.id: layer.name for layer in scene.layers}
    asked = (getattr(art, "source", None), getattr(art, "shaped", None)) if isinstance(art, Bursts) else (None, None)
    source, shaped = ((each, names[each]) if each in names else None for each in asked)
    return source, shaped


__all__ = ["Listed", "LookFigures", "look_figures"]
