"""Lamps as weighted source elements."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.kernel import PATTERN_BEAM, PATTERN_LINE, trace
from noonshade.core.plan import BeamSource, LineSource, PanelSource, Point, SourceGeometry

Floats = NDArray[np.float64]

DOWN = np.array([0.0, 0.0, -1.0])
ALONG_X = np.array([1.0, 0.0, 0.0])
UP = np.array([0.0, 0.0, 1.0])
NO_BOXES = np.zeros((0, 6))
NO_SCREENS = np.zeros(0)


@dataclass(frozen=True, slots=True)
class SourceElements:
    """A source cut into elements; weights are normalised so that the source emits 1 W in all.

    ``samples`` (s, 3) in m about the lamp's centre, ``weights`` (s,) in W/sr per emitted watt on
    the aim axis, ``pattern`` and ``exponent`` as ``kernel.trace`` takes them.
    """

    samples: Floats
    weights: Floats
    pattern: int
    exponent: float

    def at(
        self,
        centre: Point,
        points: Floats,
        normals: Floats,
        screens: Floats = NO_SCREENS,
        boxes: Floats = NO_BOXES,
    ) -> tuple[Floats, Floats]:
        """Vector irradiance (n, 3) and irradiance on normals (n,), in W/m² per emitted watt."""
        placed = self.samples + np.asarray(centre, dtype=np.float64)
        vector, on_normal = trace(
            np.ascontiguousarray(points, dtype=np.float64),
            np.ascontiguousarray(normals, dtype=np.float64),
            placed,
            self.weights,
            DOWN,
            ALONG_X,
            self.pattern,
            self.exponent,
            screens,
            boxes,
        )
        return vector, on_normal


def beam_exponent(fwhm_deg: float) -> float:
    """Exponent m of I₀ cosᵐθ from the full width at half maximum: ln ½ / ln cos(FWHM/2)."""
    return math.log(0.5) / math.log(math.cos(math.radians(fwhm_deg) / 2.0))


def elements(geometry: SourceGeometry, spacing_m: float = 0.02) -> SourceElements:
    """Cut a source into elements no longer than ``spacing_m``.

    A tube's elements lie along x at their midpoints; element intensity is proportional to sin φ to
    the axis, which makes the closed form E ∝ (α + sin α cos α)/d under its centre. A bulb is a disc of
    seven points; a panel a grid.
    """
    if isinstance(geometry, LineSource):
        n = max(1, math.ceil(geometry.length_m / spacing_m))
        x = (np.arange(n) + 0.5) / n * geometry.length_m - geometry.length_m / 2.0
        samples = np.column_stack([x, np.zeros(n), np.zeros(n)])
        exponent = -1.0 if geometry.reflector_exponent is None else geometry.reflector_exponent
        # ∫ sin²φ dφ = π/2 along the axis; ∫ cosⁿβ dβ (or 2π) around it.
        around = 2.0 * math.pi if exponent < 0 else _cosine_integral(exponent)
        weights = np.full(n, 1.0 / (n * (math.pi / 2.0) * around))
        return SourceElements(samples, weights, PATTERN_LINE, exponent)
    if isinstance(geometry, BeamSource):
        m = beam_exponent(geometry.fwhm_deg)
        ring = np.arange(6) * math.pi / 3.0
        # Six points at r√(7/12) and one in the middle carry equal weight and match the second
        # moment r²/2 of a uniform disc.
        radius = geometry.diameter_m / 2.0 * math.sqrt(7.0 / 12.0)
        samples = np.zeros((7, 3))
        samples[1:, 0] = radius * np.cos(ring)
        samples[1:, 1] = radius * np.sin(ring)
        weights = np.full(7, (m + 1.0) / (2.0 * math.pi) / 7.0)
        return SourceElements(samples, weights, PATTERN_BEAM, m)
    if isinstance(geometry, PanelSource):
        nx = max(1, math.ceil(geometry.length_m / (2 * spacing_m)))
        ny = max(1, math.ceil(geometry.width_m / (2 * spacing_m)))
        x = ((np.arange(nx) + 0.5) / nx - 0.5) * geometry.length_m
        y = ((np.arange(ny) + 0.5) / ny - 0.5) * geometry.width_m
        gx, gy = np.meshgrid(x, y, indexing="ij")
        samples = np.column_stack([gx.ravel(), gy.ravel(), np.zeros(gx.size)])
        weights = np.full(gx.size, 1.0 / (math.pi * gx.size))
        return SourceElements(samples, weights, PATTERN_BEAM, 1.0)
    raise TypeError(f"unknown source geometry {type(geometry).__name__}")


def reference_response(source: SourceElements, distance_m: float) -> float:
    """What a meter facing the lamp under its centre reads at a distance, per emitted watt, W/m²."""
    point = np.array([[0.0, 0.0, -distance_m]])
    _, on_normal = source.at((0.0, 0.0, 0.0), point, UP[np.newaxis, :])
    return float(on_normal[0])


def _cosine_integral(n: float) -> float:
    """∫ cosⁿβ dβ from −π/2 to π/2 = √π Γ((n+1)/2) / Γ(n/2 + 1)."""
    return math.sqrt(math.pi) * math.gamma((n + 1.0) / 2.0) / math.gamma(n / 2.0 + 1.0)
