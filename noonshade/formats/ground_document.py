"""The ground of a plan document: layers and mixes, damper and drier parts, burrows."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from noonshade.formats.document import Id, Label, Part

Coordinate = Annotated[float, Field(ge=-1, le=6)]
PartCount = Annotated[float, Field(gt=0, le=100, description="parts by volume")]


class MixedPartDocument(Part):
    """A material mixed into a layer."""

    material_id: Id
    parts: PartCount = 1.0


class MixDocument(Part):
    """What a layer of the ground is: a material, and others mixed into it."""

    material_id: Id
    parts: Annotated[float, Field(gt=0, le=100, description="parts of it by volume, of a mix")] = 1.0
    mixed: Annotated[
        list[MixedPartDocument], Field(max_length=7, description="what else is in the mix")
    ] = []


class LayerDocument(MixDocument):
    """A layer under the uppermost one."""

    depth_m: Annotated[float, Field(ge=0.002, le=1)]
    barrier: Annotated[bool, Field(description="a sheet lies on it that soil does not pass")] = False
    wetness: Annotated[
        float | None, Field(ge=0, le=1, description="0 dry, 1 like open water; none: as the surface")
    ] = None


class ZoneDocument(Part):
    """A part of the ground's surface that is damper or drier than the rest, seen from above."""

    id: Id
    label: Label
    x_m: Coordinate
    y_m: Coordinate
    length_m: Annotated[float, Field(gt=0, le=5)]
    width_m: Annotated[float, Field(gt=0, le=5)]
    wetness: Annotated[float, Field(ge=0, le=1, description="0 dry, 1 like open water")]


class BurrowDocument(Part):
    """A chamber in the ground and the way to it, straight from its mouth."""

    id: Id
    label: Label
    x_m: Coordinate
    y_m: Coordinate
    depth_m: Annotated[float, Field(gt=0, le=1, description="its middle below the surface, m")]
    mouth_x_m: Coordinate
    mouth_y_m: Coordinate
    diameter_m: Annotated[float, Field(ge=0.005, le=0.5)]


class SubstrateDocument(MixDocument):
    """What covers the floor, the uppermost layer first; its depth is that of all layers together."""

    depth_m: Annotated[float, Field(ge=0, le=1)]
    wetness: Annotated[float, Field(ge=0, le=1, description="0 dry, 1 like open water")] = 0.0
    below: Annotated[
        list[LayerDocument], Field(max_length=8, description="layers under it, downwards")
    ] = []
    zones: Annotated[list[ZoneDocument], Field(max_length=12, description="damper and drier parts")] = []
    burrows: Annotated[list[BurrowDocument], Field(max_length=12, description="chambers in it")] = []
