"""Pictures, text and project files: in, out, and refused."""

import json
import zipfile
from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer, Logo, Picture, Project, Scene, Text
from deftarc.core.document.artwork import outline_of
from deftarc.core.document.upgrade import FORMAT
from deftarc.demo import build
from deftarc.fonts.faces import FACES
from deftarc.fonts.shaping import Shaper
from deftarc.formats.archive import read_project, write_project
from deftarc.formats.read import Asset, bring_in
from deftarc.formats.read.picture import check_picture, decode_rgba
from deftarc.formats.read.samples import sample_csv
from tests.scenes import gull, project


def picture(kind="PNG", size=(8, 6), **save):
    out = BytesIO()
    Image.new("RGBA" if kind != "JPEG" else "RGB", size, (200, 30, 40) if kind == "JPEG" else (200, 30, 40, 128)).save(
        out, kind, **save
    )
    return out.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP"])
def test_pictures_come_in_at_their_size(kind):
    brought = bring_in(picture(kind), f"a.{kind.lower()}")
    assert isinstance(brought.artwork, Picture)
    assert (brought.artwork.width, brought.artwork.height) == (8, 6)
    assert brought.assets[0].hash == brought.artwork.asset


def test_a_picture_a_camera_turned_comes_in_upright():
    exif = Image.Exif()
    exif[0x0112] = 6
    brought = bring_in(picture("JPEG", exif=exif), "a.jpg")
    assert (brought.artwork.width, brought.artwork.height) == (6, 8)


@pytest.mark.parametrize(
    "data", [b"hello", picture()[:-30], b"GIF89a" + bytes(40), b"\x89PNG\r\n\x1a\n" + bytes(60), bytes(50)]
)
def test_what_is_no_picture_is_refused(data):
    with pytest.raises(Refusal, match=r"no picture|broken"):
        bring_in(data, "a.png")


def test_a_picture_too_large_is_refused_by_its_header():
    # A header that claims 60 000 × 60 000 pixels, with nothing behind it.
    data = bytearray(picture())
    data[16:24] = (60_000).to_bytes(4, "big") * 2
    with pytest.raises(Refusal, match=r"60000 × 60000|no picture"):
        bring_in(bytes(data), "a.png")


def outline(text):
    return outline_of(text, Shaper(lambda name: b"").form)


@pytest.mark.parametrize("face", FACES)
def test_text_is_shaped_to_outlines_in_every_shipped_font(face):
    drawn = outline(Text(text="Quillhaven", font=face, size=100))
    left, top, right, bottom = drawn.bounds()
    assert -left == pytest.approx(right, rel=0.05)
    assert -110 < top < -50
    assert 0 < bottom < 40


def test_lines_and_alignment():
    one, two = (outline(Text(text=t, size=50, align="start")).bounds() for t in ("quay", "quay\nquay"))
    assert two[3] - one[3] == pytest.approx(60)
    assert outline(Text(text="quay", size=50, align="end")).bounds()[2] <= 0
    assert outline(Text(text=" ")).verbs == ""


def demo_file():
    document, assets = build()
    known = {a.hash: a for a in assets}
    return write_project(document, lambda h: known[h].data, {h: a.media for h, a in known.items()}), document


def test_a_project_file_round_trips_to_the_letter():
    data, document = demo_file()
    back = read_project(data)
    assert back.project == document
    assert write_project(back.project, back.read_asset, {h: a.media for h, a in back.assets.items()}) == data


def test_the_schema_describes_what_is_written():
    schema = Project.model_json_schema()
    written = json.loads(project(gull()).model_dump_json(exclude_defaults=True))
    assert set(written) <= set(schema["properties"])
    assert schema["properties"]["format"]["const"] == FORMAT


def rezipped(change):
    data, _ = demo_file()
    out = BytesIO()
    with zipfile.ZipFile(BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for entry in old.namelist():
            for name, body in change(entry, old.read(entry)):
                new.writestr(name, body)
    return out.getvalue()


def refused(change, said):
    with pytest.raises(Refusal, match=said):
        read_project(rezipped(change))


def test_damaged_and_hostile_project_files_are_refused():
    data, _ = demo_file()
    for cut in (10, len(data) // 2, len(data) - 5):
        with pytest.raises(Refusal, match="damaged"):
            read_project(data[:cut])
    refused(lambda n, b: [(n, b)] if n.startswith("assets") else [], "no project.json")
    refused(lambda n, b: [(n, b)] if not n.startswith("assets") else [], "lacks")
    refused(lambda n, b: [(n, b), ("../evil", b"")], "outside")
    refused(lambda n, b: [(n, b + b" ")], "does not match")
    refused(
        lambda n, b: [(n, b.replace(b'"name"', b'"nome"') if n == "project.json" else b)], "does not keep the format"
    )
    refused(lambda n, b: [(n, b), ("assets/x.exe", b"")], "unknown kind")
    many = BytesIO()
    with zipfile.ZipFile(many, "w", zipfile.ZIP_DEFLATED) as bomb:
        bomb.writestr("project.json", b" " * 60_000_000)
    with pytest.raises(Refusal, match="more than"):
        read_project(many.getvalue())
    with pytest.raises(Refusal, match="format"):
        read_project(b'{"name": "x", "scenes": []}')


def test_samples_are_rows_of_frames_with_shown_units_and_speed():
    p = project(gull())
    text = sample_csv(p.scenes[0], p.scenes[0].layer("gull"), "position", 24, 26)
    assert text.splitlines()[0] == "frame,seconds,x,y,speed"
    frame, seconds, x, y, speed = text.splitlines()[2].split(",")
    assert (frame, seconds, x, y) == ("25", "1", "150", "200")
    # cubic-bezier(.42, 0, .58, 1) at u = ½: y' / x' = 1.5 / (3 · (.42 / 4 + .16 / 2 + .42 / 4)) = 1.7241; 500 px in 2 s.
    assert float(speed) == pytest.approx(250 * 1.5 / 0.87, rel=1e-6)
    assert sample_csv(p.scenes[0], p.scenes[0].layer("gull"), "opacity", 10, 10).splitlines()[1] == "10,0.4,100,0"


@pytest.mark.parametrize(("first", "last"), [(-1, 3), (0, 100), (5, 4)])
def test_samples_beyond_the_end_are_refused(first, last):
    p = project(gull())
    with pytest.raises(Refusal, match="0 to 99"):
        sample_csv(p.scenes[0], p.scenes[0].layer("gull"), "position", first, last)


def test_limits_hold_for_names_and_text():
    assert limits.MAX_TEXT < 100_000
    with pytest.raises(ValueError, match="2000"):
        Text(text="x" * 100_000)


def pixels_of(picture):
    """How a picture that was brought in is painted."""
    return np.array(decode_rgba(picture.data))


def test_sixteen_bits_of_grey_are_as_bright_as_they_say():
    grey = np.linspace(0, 65_535, 256).reshape(16, 16).astype(np.uint16)
    out = BytesIO()
    Image.fromarray(grey).save(out, "PNG")
    found = check_picture(out.getvalue())
    assert found.media == "image/png"
    assert np.abs(pixels_of(found)[..., 0].astype(int) - np.round(grey / 257)).max() <= 1
    # Kept as it came in by an earlier version, it is painted just as bright.
    assert (np.array(decode_rgba(out.getvalue())) == pixels_of(found)).all()


def test_four_inks_become_the_three_lights_that_browsers_show():
    out = BytesIO()
    Image.new("CMYK", (8, 6), (0, 255, 255, 0)).save(out, "JPEG", quality=100)
    found = check_picture(out.getvalue())
    with Image.open(BytesIO(found.data)) as kept:
        assert kept.mode == "RGB"
    red, green, blue, alpha = pixels_of(found)[3, 4]
    assert red > 230
    assert max(green, blue) < 30
    assert alpha == 255


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_a_picture_a_camera_turned_stands_upright(kind):
    turned = Image.Exif()
    turned[0x0112] = 6
    picture = Image.new("RGB", (40, 20), "#ffffff")
    picture.paste("#c00000", (0, 0, 20, 20))
    out = BytesIO()
    picture.save(out, kind, exif=turned, **({"lossless": True} if kind == "WEBP" else {}))
    found = check_picture(out.getvalue())
    assert (found.width, found.height) == (20, 40)
    shown = pixels_of(found)
    assert tuple(shown[5, 10][:3]) != tuple(shown[35, 10][:3])
    assert shown[5, 10][1] < 40
    with Image.open(BytesIO(found.data)) as kept:
        assert kept.getexif().get(0x0112, 1) == 1


@pytest.mark.parametrize(("width", "height"), [(16_385, 1), (1, 16_385), (8_000, 7_000)])
def test_extreme_sides_are_refused_before_a_pixel_is_decoded(width, height):
    out = BytesIO()
    Image.new("1", (width, height)).save(out, "PNG")
    with pytest.raises(Refusal, match=str(max(width, height))):
        check_picture(out.getvalue())


def test_a_file_of_another_kind_than_what_names_it_is_refused_in_a_project_file():
    picture = check_picture(png(Image.new("RGB", (4, 4))))
    asset = Asset(picture.data, picture.media)
    for artwork in (
        Picture(asset=asset.hash, width=4, height=4),
        Logo(asset=asset.hash, source=asset.hash, width=4, height=4),
    ):
        made = Project(name="a", scenes=(Scene(name="s", layers=(Layer(name="l", artwork=artwork),)),))
        data = write_project(made, lambda name: asset.data, {asset.hash: asset.media})
        if isinstance(artwork, Picture):
            assert read_project(data).project == made
        else:
            with pytest.raises(Refusal, match="wrong kind"):
                read_project(data)


def png(picture):
    out = BytesIO()
    picture.save(out, "PNG")
    return out.getvalue()
