"""Colour against what is published: Sharma, Wu and Dalal's pairs, colour-science, and scenes of known colour under three lights."""

import itertools
import warnings

import numpy as np
import pytest

from barodex.core.findings.colour import Patch, read_colours
from barodex.core.findings.colour_space import C_WHITE, D65, adapt, ciede2000, lab, to_linear, to_srgb
from barodex.core.findings.swatches import glass_xyz, swatches
from barodex.core.quantity.errors import OutOfRange

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

# Sharma, Wu and Dalal, "The CIEDE2000 color-difference formula: implementation notes, supplementary test data, and mathematical
# observations", Color Research and Application 30 (2005), table 1: L1 a1 b1, L2 a2 b2, ΔE00.
SHARMA = [
    (50.0000, 2.6772, -79.7751, 50.0000, 0.0000, -82.7485, 2.0425),
    (50.0000, 3.1571, -77.2803, 50.0000, 0.0000, -82.7485, 2.8615),
    (50.0000, 2.8361, -74.0200, 50.0000, 0.0000, -82.7485, 3.4412),
    (50.0000, -1.3802, -84.2814, 50.0000, 0.0000, -82.7485, 1.0000),
    (50.0000, -1.1848, -84.8006, 50.0000, 0.0000, -82.7485, 1.0000),
    (50.0000, -0.9009, -85.5211, 50.0000, 0.0000, -82.7485, 1.0000),
    (50.0000, 0.0000, 0.0000, 50.0000, -1.0000, 2.0000, 2.3669),
    (50.0000, -1.0000, 2.0000, 50.0000, 0.0000, 0.0000, 2.3669),
    (50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0009, 7.1792),
    (50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0010, 7.1792),
    (50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0011, 7.2195),
    (50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0012, 7.2195),
    (50.0000, -0.0010, 2.4900, 50.0000, 0.0009, -2.4900, 4.8045),
    (50.0000, -0.0010, 2.4900, 50.0000, 0.0010, -2.4900, 4.8045),
    (50.0000, -0.0010, 2.4900, 50.0000, 0.0011, -2.4900, 4.7461),
    (50.0000, 2.5000, 0.0000, 50.0000, 0.0000, -2.5000, 4.3065),
    (50.0000, 2.5000, 0.0000, 73.0000, 25.0000, -18.0000, 27.1492),
    (50.0000, 2.5000, 0.0000, 61.0000, -5.0000, 29.0000, 22.8977),
    (50.0000, 2.5000, 0.0000, 56.0000, -27.0000, -3.0000, 31.9030),
    (50.0000, 2.5000, 0.0000, 58.0000, 24.0000, 15.0000, 19.4535),
    (50.0000, 2.5000, 0.0000, 50.0000, 3.1736, 0.5854, 1.0000),
    (50.0000, 2.5000, 0.0000, 50.0000, 3.2972, 0.0000, 1.0000),
    (50.0000, 2.5000, 0.0000, 50.0000, 1.8634, 0.5757, 1.0000),
    (50.0000, 2.5000, 0.0000, 50.0000, 3.2592, 0.3350, 1.0000),
    (60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644),
    (63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630),
    (61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731),
    (35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645),
    (22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373),
    (36.4612, 47.8580, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146),
    (90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441),
    (90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381),
    (6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377),
    (2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082),
]


def test_ciede2000_gives_every_published_pair():
    rows = np.array(SHARMA)
    assert ciede2000(rows[:, :3], rows[:, 3:6]) == pytest.approx(rows[:, 6], abs=5e-5)
    assert ciede2000(rows[:, 3:6], rows[:, :3]) == pytest.approx(rows[:, 6], abs=5e-5), "it does not matter which is first"


def test_ciede2000_agrees_with_colour_science_over_the_solid():
    rng = np.random.default_rng(2005)
    one, other = (np.column_stack([rng.uniform(0, 100, 4000), rng.uniform(-90, 90, (4000, 2))]) for _ in range(2))
    assert ciede2000(one, other) == pytest.approx(colour.delta_E(one, other, method="CIE 2000"), abs=1e-8)


def test_a_colour_outside_the_solid_is_refused():
    with pytest.raises(OutOfRange):
        ciede2000([50, 0, 0], [50, float("nan"), 0])


def test_srgb_and_lab_agree_with_colour_science():
    rgb = np.random.default_rng(4).integers(0, 256, (500, 3)).astype(float)
    linear = to_linear(rgb)
    assert linear == pytest.approx(colour.models.eotf_sRGB(rgb / 255), abs=2e-5)
    assert to_srgb(linear) == pytest.approx(rgb, abs=0.02)
    matrix = colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ
    xyz = linear @ matrix.T
    white = matrix.sum(axis=1)
    assert lab(xyz, white) == pytest.approx(colour.XYZ_to_Lab(xyz, colour.XYZ_to_xy(white)), abs=0.02)


def test_bradford_agrees_with_colour_science():
    xyz = np.random.default_rng(5).uniform(0, 1, (50, 3))
    theirs = colour.adaptation.chromatic_adaptation_VonKries(xyz, C_WHITE, D65, transform="Bradford")
    assert adapt(xyz, C_WHITE) == pytest.approx(theirs, abs=1e-6)


def test_the_glasses_go_from_pale_straw_to_dark_red_inside_the_locus():
    """ASTM D1500: each glass is darker and redder than the one before. Chromaticities lie inside the spectral locus."""
    glasses = [glass_xyz(s.d1500) for s in swatches("gear")]
    assert len(glasses) == 16
    light = [g[1] for g in glasses]
    assert light == sorted(light, reverse=True)
    hues = [np.degrees(np.arctan2(*lab(g)[[2, 1]])) for g in glasses]
    assert all(b < a + 1e-6 for a, b in itertools.pairwise(hues)), "from yellow to red"
    # The table has three decimals: the deep reds lie on the locus itself, so a hundredth of white is mixed in.
    assert colour.is_within_visible_spectrum(np.array([0.99 * g + 0.01 * g[1] * D65 for g in glasses])).all()
    with pytest.raises(OutOfRange):
        glass_xyz(0.7)


# --- scenes of known colour ------------------------------------------------------------------------------------------

SHAPE = colour.SpectralShape(400, 700, 10)
WAVES = SHAPE.wavelengths
OBSERVER = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(SHAPE)


def oil_film(strength: float) -> np.ndarray:
    """Reflectance of white paper under a film of oil: more is absorbed towards blue, twice through the film (Beer and Lambert)."""
    return 0.88 * np.exp(-2 * strength * np.exp(-(WAVES - 400) / 200))


def seen(reflectance: np.ndarray, light: np.ndarray) -> np.ndarray:
    """Tristimulus values under a light, its white at Y = 1."""
    weights = OBSERVER.values * light[:, None]
    return (reflectance[:, None] * weights).sum(axis=0) / weights[:, 1].sum()


def photographed(reflectance: np.ndarray, light: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """Pixels of a camera that is set for daylight and does not know the light, with noise."""
    linear = np.linalg.solve(colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ, seen(reflectance, light)) * 0.42
    values = to_srgb(np.clip(linear, 0, 1))
    return np.clip(values + rng.normal(0, 1.5, (300, 3)), 0, 255)


LIGHTS = {
    "daylight": colour.SDS_ILLUMINANTS["D65"],
    "a tube": colour.SDS_ILLUMINANTS["FL2"],
    "a lamp between daylight and bulb": colour.sd_blackbody(3600, SHAPE),
}


@pytest.mark.parametrize("name", LIGHTS)
def test_the_paper_takes_the_light_out(name):
    """The same film reads the same under daylight (CIE D65), a fluorescent tube (CIE FL2) and a warm lamp (3600 K)."""
    light = LIGHTS[name].copy().align(SHAPE).values
    day = LIGHTS["daylight"].copy().align(SHAPE).values
    rng = np.random.default_rng(11)
    paper, fresh, used = np.full(len(WAVES), 0.88), oil_film(0.2), oil_film(1.2)
    white = seen(paper, day)
    truth_fresh, truth_used = (lab(adapt(seen(r, day), white)) for r in (fresh, used))
    truth = float(ciede2000(truth_fresh, truth_used))
    read = read_colours(
        [Patch(photographed(paper, light, rng))], Patch(photographed(fresh, light, rng)), [Patch(photographed(used, light, rng))]
    )
    got = read.drained[0]
    limit = 1.0 if name == "daylight" else 5.0
    assert float(ciede2000(got.lab, truth_used)) < limit, (got.lab, truth_used)
    assert got.delta_e == pytest.approx(truth, abs=limit)
    # Without the paper the lamp's own colour would be taken for the oil's.
    bare = lab(to_linear(photographed(used, light, rng)).mean(axis=0) / 0.42 @ colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ.T)
    if name != "daylight":
        assert float(ciede2000(bare, truth_used)) > float(ciede2000(got.lab, truth_used))
