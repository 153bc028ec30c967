"""Whether a point lies in an area of HTML's shapes, and QTI's ellipse."""

from __future__ import annotations

import math


def inside(shape: str, coords: tuple[float, ...], point: tuple[object, object]) -> bool:
    """Whether a point lies in an area of HTML's shapes (and QTI's ellipse)."""
    x, y = float(str(point[0])), float(str(point[1]))
    if shape == "rect" and len(coords) == 4:
        left, right, top, bottom = *sorted((coords[0], coords[2])), *sorted((coords[1], coords[3]))
        return left <= x <= right and top <= y <= bottom
    if shape == "circle" and len(coords) == 3:
        return math.hypot(x - coords[0], y - coords[1]) <= coords[2]
    if shape == "ellipse" and len(coords) == 4 and coords[2] and coords[3]:
        return ((x - coords[0]) / coords[2]) ** 2 + ((y - coords[1]) / coords[3]) ** 2 <= 1
    if shape == "poly" and len(coords) >= 6:
        corners = list(zip(coords[::2], coords[1::2], strict=False))
        crossings = 0
        for (x1, y1), (x2, y2) in zip(corners, [*corners[1:], corners[0]], strict=True):
            if (y1 > y) != (y2 > y) and x < (x2 - x1) * (y - y1) / (y2 - y1) + x1:
                crossings += 1
        return crossings % 2 == 1
    return shape == "default"
