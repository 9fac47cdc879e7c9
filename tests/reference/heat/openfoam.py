"""Compute the air of an enclosure with OpenFOAM and write it as a small table.

    python3 openfoam.py CASE.json OUT.json [--folder DIR] [--rounds N] [--steps N]

Needs Debian's ``openfoam``; nothing else of the project. A case is an enclosure that is symmetric about the
middle of its depth: walls by their thermal resistance to a fixed temperature outside, watts absorbed by
rectangles of the floor, watts given to the air or, scattered, to all surfaces alike, slits in the sides, a
lid of mesh. ``buoyantSimpleFoam`` with the k-omega SST model solves half of it on a mesh that resolves the
films. Longwave radiation runs between each surface and one node, whose temperature follows the surfaces'
own; both are renewed after each round of iterations. Averages over the last round are reported.
"""

from __future__ import annotations

import argparse
import itertools
import json
import math
import os
import re
import subprocess
import tempfile
from dataclasses import dataclass, field
from pathlib import Path

KELVIN = 273.15
SIGMA = 5.670374e-8
HEAD = "FoamFile {{ version 2.0; format ascii; class {}; object {}; }}\n"
# First cell at a surface and largest cell in the middle, m.
FIRST_M, LARGEST_M = 0.003, 0.045
# Cells grow from the surfaces within this distance, m.
GROWING_M = 0.13
# Air above a mesh lid that is computed with it, m.
ABOVE_M = 0.30
# The mesh as a layer that resists the flow, m.
MESH_LAYER_M = 0.01


@dataclass
class Side:
    """A surface that is computed: its area in the half enclosure, its loss and what is put into it."""

    area_m2: float
    resistance_m2k_w: float
    outside_c: float
    emissivity: float
    watts: float = 0.0
    temperature_c: float = 0.0


@dataclass
class Case:
    """The half enclosure as blocks between planes, with the name of each outer face."""

    data: dict
    xs: list[float]
    ys: list[float]
    zs: list[float]
    sides: dict[str, Side] = field(default_factory=dict)
    openings: dict[str, float] = field(default_factory=dict)  # name and height of its middle, m

    @property
    def size(self) -> tuple[float, float, float]:
        return self.data["length_m"], self.data["depth_m"], self.data["height_m"]


def planes(least: float, most: float, cuts: list[float]) -> list[float]:
    """Sorted planes between two ends, those nearer than half a millimetre taken as one."""
    found: list[float] = []
    for value in sorted([least, most, *(c for c in cuts if least < c < most)]):
        if not found or value - found[-1] > 5e-4:
            found.append(value)
    return found


def with_margins(cuts: list[float], least: float, most: float) -> list[float]:
    """The planes, and further ones where cells stop growing unless one is there already."""
    found = list(cuts)
    for at in (least + GROWING_M, most - GROWING_M):
        between = [c for c in cuts if (c < at + 0.04 if at < (least + most) / 2 else c > at - 0.04)]
        if not any(abs(c - at) < 0.09 and least < c < most for c in between) and least < at < most:
            found.append(at)
    return found


def read_case(path: Path) -> Case:
    """The case of a file, cut into blocks."""
    data = json.loads(path.read_text())
    length, depth, height = data["length_m"], data["depth_m"], data["height_m"]
    rects = [a["rect_m"] for a in data.get("absorbed", [])]
    boxes = [a["box_m"] for a in data.get("to_air", [])]
    slits = data.get("slits", [])
    xs = planes(0, length, with_margins([x for r in (*rects, *boxes) for x in r[:2]], 0, length))
    ys = planes(0, depth / 2, with_margins([r[2] for r in (*rects, *boxes)], 0, depth))
    zs = planes(
        0,
        height,
        with_margins([z for s in slits for z in s["z_m"]] + [z for b in boxes for z in b[4:]], 0, height),
    )
    if data.get("mesh_lid"):
        zs = planes(0, height + ABOVE_M, [*zs, height - MESH_LAYER_M, height])
    return Case(data, xs, ys, zs)


def cells(planes_m: list[float], i: int, walls: tuple[bool, bool]) -> tuple[int, str]:
    """How many cells lie between two planes, and how they grow from the walls among them."""
    low, high = planes_m[i], planes_m[i + 1]
    span = high - low
    at_low, at_high = i == 0 and walls[0], i == len(planes_m) - 2 and walls[1]
    if not at_low and not at_high:
        return max(2, math.ceil(span / LARGEST_M)), "1"
    half = span / 2 if at_low and at_high else span
    last = min(LARGEST_M, max(half / 3, FIRST_M))
    ratio = last / FIRST_M
    growth = max((half - FIRST_M) / max(half - last, 1e-6), 1.0001)
    count = (
        max(3, round(math.log(ratio) / math.log(growth)) + 1)
        if ratio > 1.01
        else max(3, round(half / FIRST_M))
    )
    if at_low and at_high:
        return 2 * count, f"((0.5 0.5 {ratio:.4g}) (0.5 0.5 {1 / ratio:.4g}))"
    return count, f"{ratio:.4g}" if at_low else f"{1 / ratio:.4g}"


def inside(rect: list[float], x: float, y: float) -> bool:
    return rect[0] < x < rect[1] and rect[2] < y < rect[3]


def name_of(case: Case, face: str, x: float, y: float, z: float, k: int) -> str:
    """The patch an outer face of a block belongs to."""
    data, height = case.data, case.data["height_m"]
    if face == "back":
        return "middle"
    if z > height and face in ("left", "right", "front"):
        return f"room{k}"
    if face == "bottom":
        hot = next((i for i, a in enumerate(data.get("absorbed", [])) if inside(a["rect_m"], x, y)), None)
        return "floor" if hot is None else f"hot{hot}"
    if face == "top":
        if data.get("mesh_lid"):
            return "roomtop"
        return "lid"
    for i, slit in enumerate(data.get("slits", [])):
        if slit["face"] == face and slit["z_m"][0] < z < slit["z_m"][1]:
            return f"slit{i}x{k}"
    return face


def write_mesh(case: Case, folder: Path) -> None:
    """blockMeshDict, and the patches as sides and openings of the case."""
    xs, ys, zs = case.xs, case.ys, case.zs
    nx, ny = len(xs), len(ys)

    def vertex(i: int, j: int, k: int) -> int:
        return i + nx * (j + ny * k)

    points = "\n".join(f"({x:.6g} {y:.6g} {z:.6g})" for z in zs for y in ys for x in xs)
    blocks: list[str] = []
    patches: dict[str, list[str]] = {}
    areas: dict[str, float] = {}
    heights: dict[str, list[tuple[float, float]]] = {}
    mesh_lid = bool(case.data.get("mesh_lid"))
    # Slits need one row of cells for each height of theirs: the pressure outside changes with it.
    for k, j, i in itertools.product(range(len(zs) - 1), range(ny - 1), range(nx - 1)):
        count_x, grow_x = cells(xs, i, (True, True))
        count_y, grow_y = cells(ys, j, (True, False))
        count_z, grow_z = cells(zs, k, (True, not mesh_lid))
        corner = [vertex(i + a, j + b, k + c) for c in (0, 1) for a, b in ((0, 0), (1, 0), (1, 1), (0, 1))]
        x, y, z = (xs[i] + xs[i + 1]) / 2, (ys[j] + ys[j + 1]) / 2, (zs[k] + zs[k + 1]) / 2
        zone = " lidmesh" if mesh_lid and zs[k + 1] == case.data["height_m"] else ""
        blocks.append(
            f"hex ({' '.join(map(str, corner))}){zone} ({count_x} {count_y} {count_z})"
            f" simpleGrading ({grow_x} {grow_y} {grow_z})"
        )
        dx, dy, dz = xs[i + 1] - xs[i], ys[j + 1] - ys[j], zs[k + 1] - zs[k]
        outer = {
            "bottom": (k == 0, (0, 3, 2, 1), dx * dy),
            "top": (k == len(zs) - 2, (4, 5, 6, 7), dx * dy),
            "left": (i == 0, (0, 4, 7, 3), dy * dz),
            "right": (i == nx - 2, (1, 2, 6, 5), dy * dz),
            "front": (j == 0, (0, 1, 5, 4), dx * dz),
            "back": (j == ny - 2, (3, 7, 6, 2), dx * dz),
        }
        for face, (is_outer, order, area) in outer.items():
            if is_outer:
                name = name_of(case, face, x, y, z, k)
                patches.setdefault(name, []).append("(" + " ".join(str(corner[o]) for o in order) + ")")
                areas[name] = areas.get(name, 0.0) + area
                heights.setdefault(name, []).append((zs[-1] if face == "top" else z, area))
    make_sides(case, areas, heights)

    def kind(name: str) -> str:
        return "symmetryPlane" if name == "middle" else "patch" if name in case.openings else "wall"

    listed = "\n".join(f"{n} {{ type {kind(n)}; faces ( {' '.join(f)} ); }}" for n, f in patches.items())
    (folder / "system/blockMeshDict").write_text(
        HEAD.format("dictionary", "blockMeshDict")
        + f"scale 1;\nvertices (\n{points}\n);\nblocks (\n"
        + "\n".join(blocks)
        + f"\n);\nedges ();\nboundary (\n{listed}\n);\nmergePatchPairs ();\n"
    )
    case.data["_patches"] = list(patches)


def make_sides(case: Case, areas: dict[str, float], heights: dict[str, list[tuple[float, float]]]) -> None:
    data = case.data
    for name, area in areas.items():
        if name.startswith(("slit", "room")):
            case.openings[name] = sum(z * a for z, a in heights[name]) / sum(a for _, a in heights[name])
        elif name != "middle":
            face = "floor" if name.startswith("hot") else name
            wall = data["walls"][face]
            side = Side(
                area, wall["resistance_m2k_w"], wall.get("outside_c", data["room_c"]), wall["emissivity"]
            )
            if name.startswith("hot"):
                side.watts = data["absorbed"][int(name[3:])]["watts"] / 2
            side.temperature_c = data["room_c"] + 4.0 + side.watts / area / 12.0
            case.sides[name] = side
    everywhere = sum(side.area_m2 for side in case.sides.values())
    for side in case.sides.values():
        side.watts += data.get("diffuse_w", 0.0) / 2 * side.area_m2 / everywhere


def write_fields(case: Case, folder: Path, start_c: float) -> None:
    room = case.data["room_c"] + KELVIN
    rho = 1e5 / (8314.46 / 28.96 * room)

    def write(name: str, kind: str, units: str, value: str, wall: str, opening) -> None:
        lines = []
        for patch in case.data["_patches"]:
            text = "type symmetryPlane;" if patch == "middle" else wall
            if patch in case.openings:
                text = opening(patch)
            lines.append(f"  {patch} {{ {text} }}")
        (folder / "0" / name).write_text(
            HEAD.format(kind, name)
            + f"dimensions {units};\ninternalField uniform {value};\nboundaryField {{\n"
            + "\n".join(lines)
            + "\n}\n"
        )

    start = start_c + KELVIN
    write("T", "volScalarField", "[0 0 0 1 0 0 0]", f"{start}",
          "type externalWallHeatFluxTemperature; mode coefficient; kappaMethod fluidThermo; h uniform 8.0; "
          f"Ta constant {start}; relaxation 1; value uniform {start};",
          lambda _: f"type inletOutlet; inletValue uniform {room}; value uniform {room};")  # fmt: skip
    write("U", "volVectorField", "[0 1 -1 0 0 0 0]", "(0 0 0)", "type noSlip;",
          lambda _: "type pressureInletOutletVelocity; value uniform (0 0 0);")  # fmt: skip
    write("p_rgh", "volScalarField", "[1 -1 -2 0 0 0 0]", "1e5", "type fixedFluxPressure; value uniform 1e5;",
          lambda p: f"type prghTotalPressure; p0 uniform {1e5 - rho * 9.81 * case.openings[p]:.6f}; rho rho; "
          "U U; phi phi; value uniform 1e5;")  # fmt: skip
    calculated = "type calculated; value uniform {};"
    write("p", "volScalarField", "[1 -1 -2 0 0 0 0]", "1e5", calculated.format("1e5"),
          lambda _: calculated.format("1e5"))  # fmt: skip
    write("alphat", "volScalarField", "[1 -1 -1 0 0 0 0]", "0", calculated.format(0),
          lambda _: calculated.format(0))  # fmt: skip
    write("nut", "volScalarField", "[0 2 -1 0 0 0 0]", "1e-5", "type nutLowReWallFunction; value uniform 0;",
          lambda _: calculated.format(0))  # fmt: skip
    write("k", "volScalarField", "[0 2 -2 0 0 0 0]", "1e-4", "type fixedValue; value uniform 1e-10;",
          lambda _: "type inletOutlet; inletValue uniform 1e-5; value uniform 1e-5;")  # fmt: skip
    write("omega", "volScalarField", "[0 0 -1 0 0 0 0]", "3",
          "type omegaWallFunction; blended 1; value uniform 100;",
          lambda _: "type inletOutlet; inletValue uniform 1; value uniform 1;")  # fmt: skip


def write_physics(case: Case, folder: Path) -> None:
    def put(name: str, kind: str, text: str) -> None:
        (folder / name).write_text(HEAD.format(kind, Path(name).name) + text)

    put("constant/g", "uniformDimensionedVectorField", "dimensions [0 1 -2 0 0 0 0]; value (0 0 -9.81);\n")
    put("constant/thermophysicalProperties", "dictionary",
        "thermoType { type heRhoThermo; mixture pureMixture; transport const; thermo hConst; "
        "equationOfState perfectGas; specie specie; energy sensibleEnthalpy; }\n"
        "mixture { specie { molWeight 28.96; } thermodynamics { Cp 1006; Hf 0; } "
        "transport { mu 1.84e-5; Pr 0.71; } }\npRef 1e5;\n")  # fmt: skip
    put("constant/turbulenceProperties", "dictionary",
        "simulationType RAS; RAS { RASModel kOmegaSST; turbulence on; printCoeffs off; }\n")  # fmt: skip
    options, sets = "", ""
    for i, given in enumerate(case.data.get("to_air", [])):
        x0, x1, y0, y1, z0, z1 = given["box_m"]
        sets += (
            f"{{ name heat{i}; type cellSet; action new; source boxToCell; box ({x0} {y0} {z0}) ({x1} {y1} {z1}); }} "
            f"{{ name heat{i}; type cellZoneSet; action new; source setToCellZone; set heat{i}; }} "
        )
        options += (
            f"heat{i} {{ type scalarSemiImplicitSource; active true; selectionMode cellZone; cellZone heat{i}; "
            f"volumeMode absolute; injectionRateSuSp {{ h ({given['watts'] / 2} 0); }} }}\n"
        )
    if case.data.get("mesh_lid"):
        # Pressure loss of a fine screen, K = Δp/(ρU²/2), as a Forchheimer layer: f = K/thickness.
        loss = case.data["mesh_lid"]["loss_coefficient"] / MESH_LAYER_M
        options += (
            "lidmesh { type explicitPorositySource; active true; explicitPorositySourceCoeffs { selectionMode "
            f"cellZone; cellZone lidmesh; type DarcyForchheimer; d (0 0 0); f ({loss:g} {loss:g} {loss:g}); "
            "coordinateSystem { type cartesian; origin (0 0 0); rotation { type none; } } } }\n"
        )
    if case.openings:
        options += (
            "limitT { type limitTemperature; active yes; selectionMode all; min 275; max 370; }\n"
            "limitU { type limitVelocity; active yes; selectionMode all; max 1.0; }\n"
        )
    if sets:
        put("system/topoSetDict", "dictionary", f"actions ( {sets} );\n")
    if options:
        put("constant/fvOptions", "dictionary", options)
    put("system/fvSchemes", "dictionary",
        "ddtSchemes { default steadyState; } gradSchemes { default Gauss linear; }\n"
        "divSchemes { default none; div(phi,U) bounded Gauss linearUpwind grad(U); "
        "div(phi,h) bounded Gauss limitedLinear 1; div(phi,K) bounded Gauss linear; "
        "div(phi,k) bounded Gauss upwind; div(phi,omega) bounded Gauss upwind; "
        "div(((rho*nuEff)*dev2(T(grad(U))))) Gauss linear; }\n"
        "laplacianSchemes { default Gauss linear corrected; } interpolationSchemes { default linear; } "
        "snGradSchemes { default corrected; } wallDist { method meshWave; }\n")  # fmt: skip


def write_solution(folder: Path, u: float, h: float) -> None:
    (folder / "system/fvSolution").write_text(
        HEAD.format("dictionary", "fvSolution")
        + "solvers { p_rgh { solver GAMG; smoother GaussSeidel; tolerance 1e-9; relTol 0.02; } "
        '"(U|h|k|omega)" { solver PBiCGStab; preconditioner DILU; tolerance 1e-10; relTol 0.05; } }\n'
        "SIMPLE { momentumPredictor yes; nNonOrthogonalCorrectors 0; pRefCell 0; pRefValue 1e5; rhoMin 0.9; "
        f"rhoMax 1.4; }}\nrelaxationFactors {{ fields {{ rho 1.0; p_rgh 0.7; }} equations {{ U {u}; h {h}; "
        '"(k|omega)" 0.5; } }\n'
    )


def write_control(case: Case, folder: Path, end: int, write: int, mean_from: int) -> None:
    watch = "".join(
        f"T_{p} {{ type surfaceFieldValue; libs (fieldFunctionObjects); fields (T); operation areaAverage; "
        f"regionType patch; name {p}; writeFields no; writeControl timeStep; writeInterval 10; log no; }}\n"
        for p in case.sides
    )
    watch += "".join(
        f"phi_{p} {{ type surfaceFieldValue; libs (fieldFunctionObjects); fields (phi); operation sum; "
        f"regionType patch; name {p}; writeFields no; writeControl timeStep; writeInterval 10; log no; }}\n"
        for p in case.openings
    )
    watch += (
        f"avg {{ type fieldAverage; libs (fieldFunctionObjects); timeStart {mean_from}; restartOnRestart true; "
        "writeControl writeTime; fields ( T { mean on; prime2Mean off; base time; } "
        "U { mean on; prime2Mean off; base time; } ); }\n"
    )
    (folder / "system/controlDict").write_text(
        HEAD.format("dictionary", "controlDict")
        + "application buoyantSimpleFoam; startFrom latestTime; startTime 0; stopAt endTime; "
        f"endTime {end}; deltaT 1; writeControl timeStep; writeInterval {write}; purgeWrite 2; "
        "writeFormat ascii; writePrecision 8; timePrecision 7; runTimeModifiable false;\n"
        f"functions {{\n{watch}}}\n"
    )


def run(folder: Path, *command: str) -> None:
    environment = {**os.environ, "WM_PROJECT_DIR": "/usr/share/openfoam"}
    with (folder / f"log.{command[0]}").open("a") as log:
        subprocess.run(
            command, cwd=folder, stdout=log, stderr=subprocess.STDOUT, env=environment, check=True
        )


def last(folder: Path, watched: str, rows: int = 8) -> float:
    """Mean of the last rows of a watched value."""
    found: list[float] = []
    files = sorted(folder.glob(f"postProcessing/{watched}/*/*.dat"), key=lambda p: float(p.parent.name))
    for file in files:
        found += [
            float(line.split()[-1]) for line in file.read_text().splitlines() if not line.startswith("#")
        ]
    return sum(found[-rows:]) / len(found[-rows:])


def radiant_node(case: Case) -> float:
    """Temperature of the node that surfaces exchange longwave with, °C: no heat stays in it."""
    sides = [(s.emissivity * s.area_m2, s.temperature_c) for s in case.sides.values()]
    if case.data.get("mesh_lid"):
        area = case.data["length_m"] * case.data["depth_m"] / 2
        free = case.data["mesh_lid"]["open_fraction"]
        sides.append((free * area, case.data["room_c"]))
        # The wires are as warm as the air that passes them, which is not known here: as the room.
        sides.append((0.9 * (1 - free) * area, case.data["room_c"]))
    total = sum(w * (t + KELVIN) ** 4 for w, t in sides) / sum(w for w, _ in sides)
    return total**0.25 - KELVIN


def set_walls(case: Case, folder: Path, time: int) -> None:
    """Film outside, longwave and absorbed heat of each side as one coefficient and one temperature."""
    file = folder / str(time) / "T"
    text = file.read_text()
    star = radiant_node(case)
    for name, side in case.sides.items():
        u = 1.0 / side.resistance_m2k_w
        a, b = star + KELVIN, side.temperature_c + KELVIN
        hr = side.emissivity * SIGMA * (a * a + b * b) * (a + b)
        outer = (u * side.outside_c + hr * star + side.watts / side.area_m2) / (u + hr) + KELVIN
        entry = re.search(r"\n\s*" + name + r"\s*\{[^}]*\}", text)
        assert entry is not None
        new = re.sub(r"\bh\s+(uniform\s+)?[^;]+;", f"h uniform {u + hr:.6f};", entry.group(0), count=1)
        new = re.sub(r"\bTa\s+(constant\s+)?[^;]+;", f"Ta constant {outer:.6f};", new, count=1)
        text = text.replace(entry.group(0), new)
    file.write_text(text)


def solve(case: Case, folder: Path, rounds: int, steps: int) -> int:
    """Rounds of iterations, the walls renewed between them; the last time."""
    for name in ("0", "constant", "system"):
        (folder / name).mkdir(parents=True, exist_ok=True)
    write_mesh(case, folder)
    write_fields(case, folder, case.data["room_c"] + case.data.get("start_k", 4.0))
    write_physics(case, folder)
    write_solution(folder, 0.2, 0.2)
    write_control(case, folder, steps, steps, steps)
    run(folder, "blockMesh")
    if case.data.get("to_air"):
        run(folder, "topoSet")
    set_walls(case, folder, 0)
    run(folder, "buoyantSimpleFoam")
    time = steps
    write_solution(folder, 0.3, 0.7)
    for done in range(rounds):
        final = done == rounds - 1
        length = steps
        write_control(case, folder, time + length, length, time + length // (4 if final else 3))
        run(folder, "buoyantSimpleFoam")
        time += length
        for name, side in case.sides.items():
            side.temperature_c = last(folder, f"T_{name}") - KELVIN
        if not final:
            set_walls(case, folder, time)
        lost = sum(
            s.area_m2 / s.resistance_m2k_w * (s.temperature_c - s.outside_c) for s in case.sides.values()
        )
        print(f"{time}: star {radiant_node(case):.2f} lost {2 * lost:.2f} W",
              {n: round(s.temperature_c, 2) for n, s in case.sides.items()},
              {n: f"{last(folder, f'phi_{n}'):.2e}" for n in case.openings}, flush=True)  # fmt: skip
    return time


def scalars(file: Path, vector: bool = False) -> list:
    text = file.read_text()
    start = text.index("nonuniform List")
    body = text[text.index("(", start) + 1 :]
    if vector:
        return [
            tuple(map(float, m.split())) for m in re.findall(r"\(([^)]*)\)", body[: body.index("\n)\n")])
        ]
    return [float(v) for v in body[: body.index(")")].split()]


def table(case: Case, folder: Path, time: int) -> dict:
    """What tests compare: layer means, air at the ends, surfaces."""
    length, _, height = case.size
    run(folder, "postProcess", "-func", "writeCellCentres", "-time", str(time))
    run(folder, "postProcess", "-func", "writeCellVolumes", "-time", str(time))
    at = folder / str(time)
    centres = list(zip(*scalars(at / "C", vector=True), strict=True))
    volume = scalars(at / "V")
    air = [t - KELVIN for t in scalars(at / "TMean")]
    rows = [r for r in zip(*centres, volume, air, strict=True) if r[2] < height]

    def mean(chosen: list) -> float | None:
        total = sum(r[3] for r in chosen)
        return round(sum(r[3] * r[4] for r in chosen) / total, 2) if total > 0 else None

    def at_level(z: float, x0: float = 0.0, x1: float = length) -> float | None:
        """Mean over a level, between the two rows of cells beside it."""
        here = [r for r in rows if x0 <= r[0] <= x1]
        levels = sorted({round(r[2], 5) for r in here})
        below = max((v for v in levels if v <= z), default=levels[0])
        above = min((v for v in levels if v >= z), default=levels[-1])
        low, high = (mean([r for r in here if abs(r[2] - v) < 1e-4]) for v in (below, above))
        share = 0.0 if above == below else (z - below) / (above - below)
        return round((1 - share) * low + share * high, 2)

    levels = case.data.get("layers_m") or [
        round(height * s, 3) for s in (0.05, 0.17, 0.33, 0.5, 0.75, 0.95)
    ]
    columns = [round(length * (i + 0.5) / 6, 3) for i in range(6)]
    ends = {
        name: mean([r for r in rows if a <= r[0] <= b and 0.05 <= r[2] <= 0.15])
        for name, a, b in (("left", 0.0, length / 4), ("right", 0.75 * length, length))
    }
    lost = sum(
        s.area_m2 / s.resistance_m2k_w * (s.temperature_c - s.outside_c) for s in case.sides.values()
    )
    given = sum(a["watts"] for key in ("absorbed", "to_air") for a in case.data.get(key, []))
    given += case.data.get("diffuse_w", 0.0)
    return {
        "room_c": case.data["room_c"],
        "mean_air_c": mean(rows),
        "layers": [{"z_m": z, "air_c": at_level(z)} for z in levels],
        "map": {"x_m": columns, "z_m": levels,
                "air_c": [[at_level(z, x - length / 12, x + length / 12) for x in columns] for z in levels]},
        "ends": ends,
        "surfaces_c": {n: round(s.temperature_c, 2) for n, s in case.sides.items()},
        "radiant_c": round(radiant_node(case), 2),
        "openings_kg_s": {n: round(2 * last(folder, f"phi_{n}"), 7) for n in case.openings},
        "through_walls_w": round(2 * lost, 2),
        "given_w": given,
    }  # fmt: skip


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawTextHelpFormatter)
    options.add_argument("case", type=Path)
    options.add_argument("out", type=Path)
    options.add_argument("--folder", type=Path, help="of the run; a temporary one by default")
    options.add_argument("--rounds", type=int, default=7)
    options.add_argument("--steps", type=int, default=250)
    given = options.parse_args()
    case = read_case(given.case)
    folder = given.folder or Path(tempfile.mkdtemp(prefix="openfoam-"))
    print(f"running in {folder}")
    time = solve(case, folder, given.rounds, given.steps)
    given.out.write_text(json.dumps(table(case, folder, time), indent=1) + "\n")


if __name__ == "__main__":
    main()
