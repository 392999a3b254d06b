"""A photo as evidence: marks, light, blur, and a magnet of known cover."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw, ImageFilter

from barodex.core.findings.colour import Patch, read_colours
from barodex.core.findings.photo import Spot, blurred, magnet_cover, spot_pixels
from barodex.core.findings.swatches import swatches, word_of
from barodex.core.quantity.errors import Inconsistent, OutOfRange

PAPER, FRESH, USED = (228, 226, 220), (226, 176, 62), (96, 52, 22)


def noisy(image: Image.Image, seed: int = 1, sigma: float = 4.0) -> np.ndarray:
    values = np.asarray(image).astype(float) + np.random.default_rng(seed).normal(0, sigma, (*image.size[::-1], 3))
    return values.clip(0, 255).astype(np.uint8)


def sheet_of_paper(*oils: tuple[int, int, int], paper=PAPER) -> np.ndarray:
    """White paper with round spots of oil in a row, the first at a fifth of the width."""
    image = Image.new("RGB", (900, 600), paper)
    draw = ImageDraw.Draw(image)
    for k, oil in enumerate(oils):
        x = 180 + 180 * k
        draw.ellipse([x - 70, 230, x + 70, 370], fill=oil)
    return noisy(image)


def marks(count: int) -> list[Spot]:
    return [Spot((180 + 180 * k) / 900, 0.5, 0.05) for k in range(count)]


def read(picture, count=2, **more):
    spots = marks(count)
    names = ["fresh", *[f"drain {k}" for k in range(1, count)]]
    found = [Patch(spot_pixels(picture, s, n), s.x, s.y) for s, n in zip(spots, names, strict=True)]
    return read_colours([Patch(spot_pixels(picture, Spot(0.5, 0.1, 0.04), "paper"), 0.5, 0.1)], found[0], found[1:], **more)


def test_fresh_and_drained_are_told_apart():
    got = read(sheet_of_paper(FRESH, USED))
    assert got.drained[0].delta_e > 30
    assert got.drained[0].word == "dark brown"
    assert got.fresh.word in ("fresh", "darker")
    assert got.drained[0].sure > 0.8
    assert "ASTM D1500 about" in got.text
    assert got.doubts == ()


def test_the_same_oil_twice_is_hardly_told_apart():
    got = read(sheet_of_paper(FRESH, FRESH))
    assert got.drained[0].delta_e < 2
    assert "hardly to be told" in got.text


def test_a_strip_of_drains_falls_towards_fresh():
    mixed = [tuple(int(u + (f - u) * k) for f, u in zip(FRESH, USED, strict=True)) for k in (0.2, 0.5, 0.8)]
    got = read(sheet_of_paper(FRESH, *mixed), 4, shares=[0.2, 0.5, 0.8])
    deltas = [d.delta_e for d in got.drained]
    assert deltas == sorted(deltas, reverse=True)
    assert [d.fresh_share for d in got.drained] == [0.2, 0.5, 0.8]
    back = read(sheet_of_paper(FRESH, *mixed[::-1]), 4)
    assert any("later drain is darker" in d for d in back.doubts)


def test_a_dyed_oil_is_compared_with_its_own_tints():
    got = read(sheet_of_paper((198, 56, 76), (89, 41, 29)), family="atf")
    assert got.drained[0].d1500 is None
    assert got.drained[0].word == "dark brown"


@pytest.mark.parametrize(
    ("picture", "word"),
    [
        (sheet_of_paper(FRESH, USED, paper=(40, 40, 38)), "too dark"),
        (sheet_of_paper(FRESH, USED, paper=(255, 255, 255)), "blown out"),
        (sheet_of_paper(FRESH, USED, paper=(60, 150, 70)), "no white"),
        (sheet_of_paper(FRESH, USED, paper=(60, 90, 220)), "no white"),
    ],
    ids=["dark", "blown", "green", "blue"],
)
def test_a_bad_photo_is_said_to_be_so(picture, word):
    with pytest.raises(Inconsistent, match=word):
        read(picture)


def test_marks_that_are_mixed_up_are_refused():
    picture = sheet_of_paper(FRESH, USED)
    oil, paper = (spot_pixels(picture, s, "x") for s in (marks(2)[0], Spot(0.5, 0.1, 0.04)))
    with pytest.raises(Inconsistent, match="brighter than the paper"):
        read_colours([Patch(paper // 2)], Patch(oil // 2), [Patch(paper)])
    with pytest.raises(Inconsistent, match="no white"):
        read_colours([Patch(oil)], Patch(oil), [Patch(paper)])
    with pytest.raises(Inconsistent, match="bare white paper"):
        read_colours([], Patch(oil), [Patch(paper)])
    with pytest.raises(Inconsistent, match="at least one"):
        read_colours([Patch(paper)], Patch(oil), [])


def test_a_mark_over_two_colours_is_doubted():
    picture = sheet_of_paper(FRESH, USED)
    paper, fresh = spot_pixels(picture, Spot(0.5, 0.1, 0.04), "paper"), spot_pixels(picture, marks(1)[0], "fresh")
    edge = spot_pixels(picture, Spot((180 + 180 + 70) / 900, 0.5, 0.06), "drained")
    assert any("more than one colour" in d for d in read_colours([Patch(paper)], Patch(fresh), [Patch(edge)]).doubts)


@pytest.mark.parametrize("spot", [Spot(1.2, 0.5), Spot(0.5, -0.01), Spot(float("nan"), 0.5), Spot(0.5, 0.5, 0.9)])
def test_a_mark_outside_the_photo_is_refused(spot):
    with pytest.raises(OutOfRange, match=r"drained|outside"):
        spot_pixels(sheet_of_paper(FRESH), spot, "drained")


def test_a_mark_on_too_few_pixels_is_refused():
    with pytest.raises(OutOfRange, match="too few"):
        spot_pixels(np.zeros((16, 16, 3), dtype=np.uint8), Spot(0.5, 0.5, 0.002), "paper")


@given(st.floats(0.5, 8.0))
def test_words_follow_the_numbers(number):
    words = ["fresh", "darker", "brown", "dark brown", "black"]
    assert words.index(word_of(number)) <= words.index(word_of(8.0))
    assert words.index(word_of(0.5)) <= words.index(word_of(number))


def test_every_family_has_its_swatches_from_fresh_to_black():
    for family in ("gear", "engine", "atf", "clutch fluid", "ester turbine", "hub"):
        found = swatches(family)
        assert found[0].word == "fresh"
        assert found[-1].word == "black"
        assert (found[0].d1500 is None) == (family not in ("gear", "engine"))


# --- the magnet ------------------------------------------------------------------------------------------------------


def magnet(cover: float, spikes: int = 0, blur: float = 0.0, ground=(235, 232, 226), metal=(176, 180, 182)) -> np.ndarray:
    image = Image.new("RGB", (800, 600), ground)
    draw = ImageDraw.Draw(image)
    x, y, r = 400, 300, 150
    draw.ellipse([x - r, y - r, x + r, y + r], fill=metal)
    inner = r * cover**0.5
    if cover:
        draw.ellipse([x - inner, y - inner, x + inner, y + inner], fill=(52, 54, 52))
    for k in range(spikes):
        a = 2 * np.pi * k / spikes
        draw.line([x, y, x + 1.3 * r * np.cos(a), y + 1.3 * r * np.sin(a)], fill=(50, 50, 50), width=14)
    return noisy(image.filter(ImageFilter.GaussianBlur(blur)) if blur else image)


ROUND = Spot(0.5, 0.5, 0.25)


@settings(max_examples=15, deadline=None)
@given(st.floats(0.05, 0.8))
def test_the_covered_share_is_what_was_drawn(cover):
    assert magnet_cover(magnet(cover), ROUND).share == pytest.approx(cover, abs=0.02)


@pytest.mark.parametrize(
    ("cover", "spikes", "word"),
    [(0, 0, "none"), (0.01, 0, "none"), (0.2, 0, "film"), (0.7, 0, "cap"), (0.9, 14, "whiskers"), (0.9, 44, "overflowing")],
)
def test_a_cover_is_suggested(cover, spikes, word):
    found = magnet_cover(magnet(cover, spikes), ROUND)
    assert found.suggests == word
    assert 0.2 <= found.sure <= 1


def lumpy(picture: np.ndarray, radius: float, seed: int) -> np.ndarray:
    """Paste on a magnet as it is: lumps and hollows of their own light, some eighth of the magnet wide."""
    rng = np.random.default_rng(seed)
    rows, columns = np.ogrid[: picture.shape[0], : picture.shape[1]]
    rough = np.array(
        Image.fromarray(rng.normal(0, 1, (24, 32)).astype(np.float32)).resize((picture.shape[1], picture.shape[0]), Image.BICUBIC)
    )
    on = (columns - 400) ** 2 + (rows - 300) ** 2 <= (radius * 150) ** 2
    found = picture.astype(float)
    found[on] = 52 * np.exp(0.45 * rough[on])[:, None]
    return noisy(Image.fromarray(np.clip(found, 0, 255).astype(np.uint8)), seed)


@pytest.mark.parametrize("shade", [28, 45, 60, 75])
@pytest.mark.parametrize("light", [0.0, 0.15])
def test_a_bare_dark_magnet_on_white_paper_is_no_cap(shade, light):
    """One in twelve of the light across its face, as a lamp from the side makes it; never read as a cap, let alone with certainty."""
    picture = magnet(0.0, metal=(shade, shade + 1, shade + 3)).astype(float)
    slope = 1 + light * (np.linspace(0, 1, picture.shape[1]) - 0.5)
    with pytest.raises(Inconsistent, match=r"bare dark magnet|not told apart"):
        magnet_cover(np.clip(picture * slope[None, :, None], 0, 255).astype(np.uint8), ROUND)


@pytest.mark.parametrize("seed", range(6))
def test_a_lumpy_cap_over_all_of_the_magnet_is_one(seed):
    assert magnet_cover(lumpy(magnet(1.0), 1.0, seed), ROUND).suggests == "cap"


@pytest.mark.parametrize("small_by", [0.9, 0.95, 1.0])
@pytest.mark.parametrize("seed", range(4))
def test_a_circle_drawn_too_small_makes_no_whiskers(small_by, seed):
    found = magnet_cover(lumpy(magnet(1.0), 1.0, seed), Spot(0.5, 0.5, 0.25 * small_by))
    assert found.suggests == "cap"


def test_a_second_thing_on_the_paper_does_not_count_as_beyond_the_rim():
    picture = magnet(0.5)
    picture[60:130, 380:420] = 30
    assert magnet_cover(picture, ROUND).beyond < 0.01


@pytest.mark.parametrize(
    ("picture", "spot", "word"),
    [
        (magnet(0.5, ground=(50, 50, 50), metal=(45, 45, 46)), ROUND, "too dark"),
        (magnet(0.5, blur=14), ROUND, "blurred"),
        (magnet(0.0, metal=(140, 140, 142)), ROUND, "not told apart"),
        (magnet(0.0, metal=(150, 150, 152)), ROUND, "not told apart"),
    ],
    ids=["dark", "blurred", "as grey as paste", "nearly so"],
)
def test_a_photo_that_tells_nothing_of_a_magnet_says_so(picture, spot, word):
    with pytest.raises(Inconsistent, match=word):
        magnet_cover(picture, spot)


def test_a_circle_outside_or_too_small_is_refused():
    with pytest.raises(OutOfRange, match="outside"):
        magnet_cover(magnet(0.5), Spot(1.5, 0.5, 0.2))
    with pytest.raises(OutOfRange, match="too few"):
        magnet_cover(magnet(0.5), Spot(0.5, 0.5, 0.005))


def test_blur_is_noticed():
    sharp = magnet(0.5)
    assert not blurred(sharp)
    assert blurred(magnet(0.5, blur=14))
