"""A whole animated SVG, and a page that shows one."""

from deftarc.core.document import Scene
from deftarc.core.spaces.colour import parse_colour
from deftarc.formats.write.svg.numbers import fine, quoted, short
from deftarc.formats.write.svg.tree import Tree

#: Stops what moves for who wants things to rest: what there is then is the end of it, all having come in.
AT_REST = (
    "@media (prefers-reduced-motion:reduce){*{animation-duration:1ms!important;animation-iteration-count:1!important}}"
)


def background_of(scene: Scene) -> str:
    """What lies beneath everything, where there is anything."""
    if scene.background is None:
        return ""
    alpha = parse_colour(scene.background)[3]
    clear = f' fill-opacity="{fine(alpha)}"' if alpha < 1 else ""
    return f'<rect width="{scene.width}" height="{scene.height}" fill="{scene.background[:7]}"{clear}/>'


def svg_text(scene: Scene, tree: Tree, body: str, scale: float = 1.0, alone: bool = True, along: str = "") -> str:
    """The SVG of what a tree wrote; ``alone`` as a file of its own, with its styles in it; with what goes along."""
    width, height = (short(max(1.0, round(side * scale))) for side in (scene.width, scene.height))
    styles = tree.clock.style() + (AT_REST if tree.clock.rules else "")
    style = f"<style>{styles}</style>" if alone and styles else ""
    defs = f"<defs>{''.join(tree.defs)}</defs>" if tree.defs else ""
    named = ' xmlns="http://www.w3.org/2000/svg"' if alone else ""
    return (
        f'<svg{named} width="{width}" height="{height}" viewBox="0 0 {scene.width} {scene.height}" role="img" '
        f'preserveAspectRatio="none" aria-label="{quoted(scene.name)}">'
        f"{style}{defs}{background_of(scene)}{body}{along}</svg>\n"
    )


def page_text(title: str, css: str, svg: str, clear: bool) -> str:
    """A page of its own that shows an SVG moved by styles."""
    ground = "repeating-conic-gradient(#ddd 0 25%,#fff 0 50%) 0 0/20px 20px" if clear else "#fff"
    return (
        "<!doctype html>\n"
        f'<html lang="en"><head><meta charset="utf-8"><title>{quoted(title)}</title>\n'
        '<meta name="viewport" content="width=device-width,initial-scale=1">\n'
        "<style>\n/* The page. */\n"
        f"body{{margin:0;min-height:100vh;display:grid;place-items:center;background:{ground}}}\n"
        "svg{max-width:100vw;max-height:100vh;width:auto;height:auto;display:block}\n"
        "/* The motion: take this along with the drawing. */\n"
        f"{css}\n</style></head>\n<body>\n{svg}</body></html>\n"
    )


__all__ = ["AT_REST", "background_of", "page_text", "svg_text"]
