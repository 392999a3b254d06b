"""Light, CIE XYZ and L*a*b*, and the difference of two colours.

Arrays of colours have their three components on the last axis.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from barodex.core.quantity.errors import all_in_range

Array = NDArray[np.float64]

# Linear sRGB to CIE XYZ, and its white D65: IEC 61966-2-1.
_TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
D65 = _TO_XYZ.sum(axis=1)
# CIE standard illuminant C, 2° observer: CIE 15.
C_WHITE = np.array([0.98074, 1.0, 1.18232])
# Cone responses of the Bradford transform: CIE 160.
_BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])


def to_linear(rgb: ArrayLike) -> Array:
    """Give light from the values of a picture.

    Parameters
    ----------
    rgb : sRGB values, 0 to 255, shape (…, 3)

    Returns
    -------
    array of the same shape, 0 to 1, proportional to light

    Raises
    ------
    OutOfRange : a value outside 0 to 255

    References
    ----------
    IEC 61966-2-1, 5.2.
    """
    v = np.asarray(all_in_range("rgb", rgb, 0, 255)) / 255.0
    return np.asarray(np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4))


def to_srgb(linear: ArrayLike) -> Array:
    """Give the values of a picture from light; what a screen cannot show is cut.

    Parameters
    ----------
    linear : light in linear sRGB, shape (…, 3)

    Returns
    -------
    array of the same shape, 0 to 255

    References
    ----------
    IEC 61966-2-1, 5.2.
    """
    v = np.clip(np.asarray(linear, dtype=np.float64), 0.0, 1.0)
    return np.where(v <= 0.0031308, v * 12.92, 1.055 * v ** (1 / 2.4) - 0.055) * 255.0


def lab(xyz: ArrayLike, white: ArrayLike = D65) -> Array:
    """Give CIE L*a*b*.

    Parameters
    ----------
    xyz : tristimulus values, Y of white 1, shape (…, 3)
    white : those of the white that it is seen against

    Returns
    -------
    array of the same shape: L*, a*, b*

    References
    ----------
    ISO/CIE 11664-4.
    """
    t = np.asarray(xyz, dtype=np.float64) / np.asarray(white, dtype=np.float64)
    f = np.where(t > (6 / 29) ** 3, np.cbrt(t), t * (29 / 6) ** 2 / 3 + 4 / 29)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)


def adapt(xyz: ArrayLike, white: ArrayLike, to_white: ArrayLike = D65) -> Array:
    """Bring colours seen under one white to another.

    Parameters
    ----------
    xyz : tristimulus values, shape (…, 3)
    white, to_white : the white that they were seen under, and the one to see them under; none of their components 0

    Returns
    -------
    array of the same shape

    References
    ----------
    Linear Bradford transform, CIE 160:2004.
    """
    gain = (_BRADFORD @ np.asarray(to_white)) / (_BRADFORD @ np.asarray(white))
    return np.asarray(np.asarray(xyz, dtype=np.float64) @ (np.linalg.inv(_BRADFORD) @ np.diag(gain) @ _BRADFORD).T)


def ciede2000(one: ArrayLike, other: ArrayLike) -> Array:
    """Give the colour difference ΔE₀₀; about 1 can just be seen side by side.

    Parameters
    ----------
    one, other : L*a*b*, shapes (…, 3) that broadcast; L* 0 to 110, a* and b* −200 to 200

    Returns
    -------
    array of the shape without the last axis

    Raises
    ------
    OutOfRange : a component outside −200 to 200

    References
    ----------
    ISO/CIE 11664-6; Sharma, Wu and Dalal (2005), whose notes on hue are followed; all weights 1.
    """
    p, q = all_in_range("lab", one, -200, 200), all_in_range("lab", other, -200, 200)
    c_mean = (np.hypot(p[..., 1], p[..., 2]) + np.hypot(q[..., 1], q[..., 2])) / 2
    g = 1.5 - 0.5 * np.sqrt(c_mean**7 / (c_mean**7 + 25.0**7))
    a1, a2 = g * p[..., 1], g * q[..., 1]
    c1, c2 = np.hypot(a1, p[..., 2]), np.hypot(a2, q[..., 2])
    h1, h2 = np.degrees(np.arctan2(p[..., 2], a1)) % 360, np.degrees(np.arctan2(q[..., 2], a2)) % 360
    grey = c1 * c2 == 0
    apart = h2 - h1
    dh = np.where(grey, 0.0, np.where(apart > 180, apart - 360, np.where(apart < -180, apart + 360, apart)))
    both = h1 + h2
    h = np.where(grey, both, np.where(np.abs(apart) <= 180, both / 2, np.where(both < 360, both / 2 + 180, both / 2 - 180)))
    light, chroma = (p[..., 0] + q[..., 0]) / 2, (c1 + c2) / 2
    r = np.radians
    t = 1 - 0.17 * np.cos(r(h - 30)) + 0.24 * np.cos(r(2 * h)) + 0.32 * np.cos(r(3 * h + 6)) - 0.20 * np.cos(r(4 * h - 63))
    s_l = 1 + 0.015 * (light - 50) ** 2 / np.sqrt(20 + (light - 50) ** 2)
    s_c, s_h = 1 + 0.045 * chroma, 1 + 0.015 * chroma * t
    turn = -2 * np.sqrt(chroma**7 / (chroma**7 + 25.0**7)) * np.sin(r(60 * np.exp(-(((h - 275) / 25) ** 2))))
    d_l = (q[..., 0] - p[..., 0]) / s_l
    d_c = (c2 - c1) / s_c
    d_h = 2 * np.sqrt(c1 * c2) * np.sin(r(dh / 2)) / s_h
    return np.asarray(np.sqrt(np.maximum(0.0, d_l**2 + d_c**2 + d_h**2 + turn * d_c * d_h)))
