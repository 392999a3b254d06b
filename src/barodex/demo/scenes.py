"""Photos for the demo, drawn here: oil on white paper, and a magnet on a plug. Nothing in them is anybody's."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

SIZE = (1600, 1200)


def _finish(image: Image.Image, light: tuple[float, float, float], seed: int) -> bytes:
    """Uneven light of a colour, a soft lens, noise: as a camera in a workshop gives it."""
    values = np.asarray(image.filter(ImageFilter.GaussianBlur(1.2))).astype(np.float64)
    height, width = values.shape[:2]
    rows, columns = np.mgrid[0:height, 0:width]
    fall = 1.0 - 0.16 * ((columns / width - 0.45) ** 2 + (rows / height - 0.4) ** 2)
    values = values * fall[..., None] * np.array(light)
    values += np.random.default_rng(seed).normal(0, 2.5, values.shape)
    out = io.BytesIO()
    Image.fromarray(values.clip(0, 255).astype(np.uint8)).save(out, "JPEG", quality=88)
    return out.getvalue()


def oil_on_paper(*oils: tuple[int, int, int], light: tuple[float, float, float] = (0.93, 0.89, 0.8), seed: int = 1) -> bytes:
    """Drops of oil in a row on white paper, the fresh one first, as JPEG."""
    image = Image.new("RGB", SIZE, (92, 84, 72))
    draw = ImageDraw.Draw(image)
    draw.polygon([(120, 90), (1500, 60), (1540, 1120), (80, 1150)], fill=(243, 242, 238))
    apart = 1100 / max(1, len(oils) - 1)
    for k, oil in enumerate(oils):
        x, y = 250 + k * apart, 620 + 18 * (k % 2)
        rim = tuple(int(0.82 * v) for v in oil)
        draw.ellipse([x - 128, y - 120, x + 128, y + 120], fill=rim)
        draw.ellipse([x - 114, y - 106, x + 114, y + 106], fill=oil)
        draw.ellipse([x - 62, y - 78, x - 30, y - 56], fill=tuple(min(255, v + 46) for v in oil))
    return _finish(image, light, seed)


def magnet_on_paper(cover: float, spikes: int = 0, seed: int = 2) -> bytes:
    """The magnetic end of a drain plug from above, a share of it under paste, as JPEG."""
    image = Image.new("RGB", SIZE, (238, 236, 230))
    draw = ImageDraw.Draw(image)
    x, y, r = 800, 600, 290
    draw.ellipse([x - r - 90, y - r - 90, x + r + 90, y + r + 90], fill=(198, 198, 196))
    draw.ellipse([x - r, y - r, x + r, y + r], fill=(168, 172, 174))
    rng = np.random.default_rng(seed)
    inner = r * cover**0.5
    edge = [
        (x + inner * (1 + 0.03 * rng.normal()) * np.cos(a), y + inner * (1 + 0.03 * rng.normal()) * np.sin(a))
        for a in np.linspace(0, 2 * np.pi, 90)
    ]
    draw.polygon(edge, fill=(52, 54, 53))
    for a in np.linspace(0, 2 * np.pi, spikes, endpoint=False):
        draw.line([x, y, x + 1.3 * r * np.cos(a), y + 1.3 * r * np.sin(a)], fill=(48, 50, 49), width=26)
    return _finish(image, (0.95, 0.94, 0.92), seed)
