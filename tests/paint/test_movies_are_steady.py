"""The same frames are the same bytes, whatever the size, the quality, and what lies beside them in memory."""

import hashlib
from fractions import Fraction

import av
import numpy as np
import pytest

from deftarc.paint.output.movie import H264, VP9, MovieWriter

CHANCE = np.random.default_rng(4)


def frames(width, height, count):
    """A ground that rolls by, with a square of another colour in each."""
    ground = CHANCE.integers(0, 256, (height // 8 + 1, width // 8 + 1, 4), np.uint8).repeat(8, 0).repeat(8, 1)
    ground = np.ascontiguousarray(ground[:height, :width])
    for k in range(count):
        made = np.roll(ground, (3 * k, 5 * k), (0, 1))
        made[height // 3 : height // 2, 4 * k % width : 4 * k % width + width // 8] = (200, 40 + 3 * k, 9, 255)
        made[..., 3] = 255
        yield made


def written(path, codec, quality, width, height, made):
    with MovieWriter(path, codec, quality, Fraction(25), width, height) as movie:
        for each in made:
            movie.add(each)
    # What a part is called in its container is thrown for it, and left out when parts are joined: its packets count.
    told = hashlib.sha256()
    with av.open(str(path)) as made:
        for packet in made.demux(video=0):
            told.update(bytes(packet))
    return told.hexdigest()


def littered():
    """Leaves other things in the memory that an encoder is given next."""
    return [CHANCE.integers(0, 256, CHANCE.integers(1_000, 400_000), np.uint8) for _ in range(12)]


@pytest.mark.parametrize(
    ("codec", "quality", "size", "count", "times"),
    [
        (H264, "good", (64, 48), 60, 60),
        (H264, "good", (158, 90), 40, 12),
        (H264, "small", (322, 182), 24, 5),
        (H264, "high", (322, 182), 24, 5),
        (H264, "good", (1920, 1080), 12, 3),
        (VP9, "good", (158, 90), 20, 4),
        (VP9, "good", (1920, 1080), 4, 2),
    ],
    ids=lambda told: getattr(told, "name", None) or str(told),
)
def test_a_movie_is_the_same_bytes_each_time(tmp_path, codec, quality, size, count, times):
    made = list(frames(*size, count))
    hashes = set()
    for _ in range(times):
        littered()
        hashes.add(written(tmp_path / f"a.{codec.container}", codec, quality, *size, made))
    assert len(hashes) == 1
