"""Heaters and how they are fixed, shelter and space, company."""

from __future__ import annotations

from typing import Any

from noonshade.core.plan import Branch, Member, Plan
from tests.builders import MATERIALS
from tests.judged.setups import Situation, held_at, hide, home, lamp, ledge, mat, perch

S = Situation
DRAGON = "pogona-vitticeps"


def flooded(species: str = DRAGON, **how: Any) -> Plan:
    """A flood inside, over the slab of a timber box."""
    more = {"guard": True} | how.pop("flood", {})
    z = how.pop("z", 0.5)
    return home(species, "timber", lamp("halogen-flood", 50, 0.28, 0.3, z, **more), **how)


def together(
    species: str, *members: tuple[str, float | None], count: int | None = None, **how: Any
) -> Plan:
    listed = tuple(Member(f"No. {i}", sex, long) for i, (sex, long) in enumerate(members, 1))  # type: ignore[arg-type]
    how.setdefault("size", None)
    return home(
        species, how.pop("kind", "glass"), animal={"count": count or len(listed), "members": listed}, **how
    )


GEAR = [
    S(
        "a flood a hand above the slab, unguarded",
        lambda: flooded(flood={"guard": False}, z=0.3),
        {"finding:clearance": "danger"},
    ),
    S(
        "a flood 4 cm above a tile burns through its guard",
        lambda: flooded(z=0.2),
        {"finding:clearance": "danger"},
    ),
    S(
        "a flood at the right height behind a guard",
        lambda: flooded(z=0.5),
        {"finding:clearance": None, "finding:fire": None},
    ),
    S(
        "a flood beside the timber wall",
        lambda: home(DRAGON, "timber", lamp("halogen-flood", 50, 0.04, 0.3, 0.5)),
        {"finding:fire": "danger"},
    ),
    S(
        "a clamped lamp over a climbing lizard slips",
        lambda: flooded(flood={"mount": "clamped"}),
        {"finding:clamped": "fault"},
    ),
    S(
        "a screwed one does not",
        lambda: flooded(flood={"mount": "screwed"}),
        {"finding:clamped": None, "finding:fitting": None},
    ),
    S(
        "a dome resting on mesh that a chameleon hangs from",
        lambda: home(
            "furcifer-pardalis", "mesh", lamp("halogen-dome-14", 50, 0.14, 0.3, 1.22, mount="on_mesh")
        ),
        {"finding:on-mesh": "fault", "finding:mesh-clamped": "fault"},
    ),
    S(
        "the same dome hung a hand above it",
        lambda: home(
            "furcifer-pardalis", "mesh", lamp("halogen-dome-14", 50, 0.14, 0.3, 1.32, mount="hung")
        ),
        {"finding:on-mesh": None, "finding:mesh-clamped": None},
    ),
    S(
        "a lamp laid on a plastic lid melts it",
        lambda: home(
            "pantherophis-guttatus", "pvc", lamp("halogen-flood", 50, 0.28, 0.3, 0.42, mount="on_mesh")
        ),
        {"finding:on-mesh": "danger"},
    ),
    S(
        "a panel screwed under the lid is as it should be",
        lambda: home(
            "boa-imperator", "pvc", lamp("radiant-panel-80", 80, 0.45, 0.45, 0.87, mount="screwed")
        ),
        {"finding:clearance": None, "finding:fitting": None, "finding:clamped": None},
    ),
    S(
        "a panel a finger above the shelf is not",
        lambda: home(
            "boa-imperator",
            "pvc",
            lamp("radiant-panel-80", 80, 0.45, 0.45, 0.6, mount="screwed"),
            add=(ledge(0.45, 0.45, 0.55, 0.06, size=(0.6, 0.4), id="shelf"),),
        ),
        {"finding:clearance": "danger"},
    ),
    S(
        "a flood without a guard above a strong tegu",
        lambda: home("salvator-merianae", "timber", lamp("halogen-flood", 100, 0.55, 0.6, 0.95)),
        {"finding:fitting": "care"},
    ),
    S(
        "a mat without a thermostat",
        lambda: home("eublepharis-macularius", "glass", mat(16, 0.2, 0.2)),
        {"finding:uncontrolled": "danger"},
    ),
    S(
        "a probe at the other end",
        lambda: home(
            DRAGON,
            "timber",
            lamp("halogen-flood", 75, 0.28, 0.3, 0.5, guard=True, thermostat_id="t"),
            controls=(held_at(30, 1.1, 0.3, 0.2, kind="dimming"),),
        ),
        {"finding:probe-far": "fault"},
    ),
    S(
        "a UV tube on a dimmer",
        lambda: home(
            DRAGON,
            "timber",
            lamp("t5-strong-85", None, 0.5, 0.35, 0.52, thermostat_id="t"),
            controls=(held_at(30, 0.6, 0.3, 0.2, kind="dimming"),),
        ),
        {"finding:pairing": "danger"},
    ),
    S(
        "a set point typed in the other unit",
        lambda: home(
            DRAGON,
            "timber",
            lamp("halogen-flood", 75, 0.28, 0.3, 0.5, guard=True, thermostat_id="t"),
            controls=(held_at(55, 0.5, 0.55, 0.1, kind="dimming"),),
        ),
        {"finding:unit": "danger"},
    ),
    S(
        "a probe on the slab may well be set to 45 °C",
        lambda: home(
            DRAGON,
            "timber",
            lamp("halogen-flood", 75, 0.28, 0.3, 0.5, guard=True, thermostat_id="t"),
            controls=(held_at(45.5, 0.3, 0.3, 0.163, kind="dimming"),),
            depth=0.06,
            changed={"basking": {"underside_m": 0.08}},
        ),
        {"finding:unit": None},
    ),
    S(
        "a flood over the water dish",
        lambda: home(DRAGON, "timber", lamp("halogen-flood", 50, 1.05, 0.12, 0.5, guard=True)),
        {"finding:over-water": "care"},
    ),
]

SPACE = [
    S("both ends have a hide", lambda: flooded(), {"finding:no-hide": None}),
    S(
        "hides at the warm end only",
        lambda: flooded(drop=("cool-hide", "moist-hide", "shade-shelf")),
        {"finding:no-hide": "fault"},
    ),
    S(
        "a slate the animal fits under is a hide",
        lambda: home(
            "eublepharis-macularius",
            "glass",
            mat(5, 0.2, 0.22, "mat-14"),
            drop=("warm-hide", "basking"),
            add=(ledge(0.2, 0.22, 0.105, 0.06, id="slate", of="slate", size=(0.2, 0.2), basking=True),),
        ),
        {"finding:no-hide": None},
    ),
    S(
        "a shelf high above it is none",
        lambda: home(
            "eublepharis-macularius",
            "glass",
            drop=("warm-hide", "basking"),
            add=(ledge(0.2, 0.22, 0.3, 0.06, id="slate", of="slate", size=(0.2, 0.2), basking=True),),
        ),
        {"finding:no-hide": "fault"},
    ),
    S(
        "a leopard gecko in a hide like a hall",
        lambda: home(
            "eublepharis-macularius",
            "glass",
            drop=("warm-hide", "cool-hide", "moist-hide", "basking"),
            add=(hide(0.2, 0.3, 0.16, id="hall"), hide(0.7, 0.3, 0.16, id="hall-2")),
        ),
        {"finding:roomy": "care"},
    ),
    S(
        "a tight hide suits it",
        lambda: home(
            "eublepharis-macularius",
            "glass",
            drop=("basking",),
            changed={"warm-hide": {"height_m": 0.06, "opening_height_m": 0.045}},
        ),
        {"finding:roomy": None},
    ),
    S(
        "an opening it cannot get through",
        lambda: home(
            "pogona-vitticeps",
            "timber",
            changed={"warm-hide": {"opening_width_m": 0.03, "opening_height_m": 0.03}},
        ),
        {"finding:opening": "fault"},
    ),
    S(
        "an emerald boa on a pencil",
        lambda: home(
            "corallus-caninus",
            "pvc",
            drop=("basking", "climbing-branch", "cross-branch", "shade-shelf"),
            add=(perch(0.6, 0.1, 0.9, 0.35, 0.01),),
        ),
        {"finding:perch-thin": "fault"},
    ),
    S(
        "an emerald boa on perches as thick as itself",
        lambda: home(
            "corallus-caninus",
            "pvc",
            drop=("basking", "climbing-branch", "cross-branch", "shade-shelf"),
            add=(perch(0.6, 0.1, 0.9, 0.35, 0.05),),
        ),
        {"finding:perch-thin": None, "finding:no-perch": None},
    ),
    S(
        "a tree boa on the ground",
        lambda: home(
            "corallus-hortulana",
            "glass",
            drop=(
                "basking",
                "climbing-branch",
                "cross-branch",
                "shade-shelf",
                "warm-hide",
                "cool-hide",
                "moist-hide",
            ),
        ),
        {"finding:no-perch": "fault"},
    ),
    S(
        "a tortoise that cannot lift its shell under the lid",
        lambda: home(
            "testudo-marginata",
            "pvc",
            size=(2.0, 1.0, 0.35),
            depth=0.1,
            changed={"basking": {"underside_m": 0.1}},
        ),
        {"finding:headroom": "fault"},
    ),
    S("a bearded dragon with room above it", lambda: flooded(), {"finding:headroom": None}),
    S(
        "a horned frog on bare glass",
        lambda: home("ceratophrys-ornata", "glass", depth=0.02),
        {"finding:ground-shallow": "fault"},
    ),
    S(
        "a horned frog in deep damp soil",
        lambda: home("ceratophrys-ornata", "glass", depth=0.12, wet=0.5),
        {"finding:ground-shallow": None},
    ),
    S(
        "a steppe tortoise on three centimetres",
        lambda: home("testudo-horsfieldii", "table", depth=0.03),
        {"finding:ground-shallow": "fault"},
    ),
    S(
        "a bosc monitor on a handful of soil",
        lambda: home("varanus-exanthematicus", "timber", depth=0.15),
        {"finding:ground-shallow": "fault"},
    ),
    S(
        "a gravid chameleon over four centimetres of soil holds her eggs back",
        lambda: home("chamaeleo-calyptratus", "mesh", stage="gravid", drop=("moist-hide",)),
        {"finding:no-laying-place": "fault"},
    ),
    S(
        "the same female with a deep bed of soil",
        lambda: home(
            "chamaeleo-calyptratus",
            "mesh",
            stage="gravid",
            depth=0.22,
            wet=0.4,
            drop=("moist-hide", "climbing-branch"),
        ),
        {"finding:no-laying-place": None},
    ),
    S(
        "one that is not gravid needs no such bed",
        lambda: home("chamaeleo-calyptratus", "mesh"),
        {"finding:no-laying-place": None},
    ),
    S(
        "a gravid corn snake without a box of moist moss",
        lambda: home("pantherophis-guttatus", "timber", stage="gravid", drop=("moist-hide",)),
        {"moist_hide:humidity": ("unknown", "fault")},
    ),
    S(
        "a gravid boa, which bears live young, needs none",
        lambda: home("boa-imperator", "pvc", stage="gravid"),
        {"moist_hide:humidity": None, "finding:no-laying-place": None},
    ),
    S(
        "a gravid terrapin is to leave the water",
        lambda: home("chrysemys-picta", "glass", stage="gravid"),
        {"finding:no-laying-place": "care"},
    ),
    S(
        "a hatchling python in a hatchling's box",
        lambda: home("python-bivittatus", "pvc", stage="hatchling"),
        {"finding:box-small": "note"},
    ),
    S(
        "a grown one in the same box",
        lambda: home("python-bivittatus", "pvc", size=(1.5, 0.9, 0.6)),
        {"finding:box-small": "fault"},
    ),
    S(
        "a young leopard gecko in a small box",
        lambda: home("eublepharis-macularius", "glass", stage="young", size=(0.65, 0.35, 0.3)),
        {"finding:box-small": "note"},
    ),
    S(
        "a frog without cover",
        lambda: home(
            "ranoidea-caerulea",
            "glass",
            drop=("leaves", "warm-hide", "cool-hide", "moist-hide", "shade-shelf"),
        ),
        {"finding:no-cover": "fault"},
    ),
    S(
        "a snake with no way under cover from end to end",
        lambda: home("boaedon-capensis", "pvc", size=(2.4, 0.6, 0.4), drop=("cover", "shade-shelf")),
        {"finding:bare": None},
    ),
    S(
        "a branch within reach of a bulb",
        lambda: flooded(
            flood={"guard": False},
            add=(Branch("b", "Branch", (0.15, 0.3, 0.1), (0.3, 0.3, 0.42), 0.03, MATERIALS["hardwood"]),),
        ),
        {"finding:clearance": "danger"},
    ),
]

COMPANY = [
    S(
        "two male bearded dragons",
        lambda: together(DRAGON, ("male", None), ("male", None), kind="timber"),
        {"finding:company-alone": "fault", "finding:company-males": "danger"},
    ),
    S(
        "a male day gecko with a female",
        lambda: together("phelsuma-laticauda", ("male", None), ("female", None)),
        {"finding:company-alone": None, "finding:company-males": None, "finding:company-pairs": None},
    ),
    S(
        "three of them",
        lambda: together("phelsuma-laticauda", ("male", None), ("female", None), ("female", None)),
        {"finding:company-pairs": "fault"},
    ),
    S(
        "two male collared lizards with a female",
        lambda: together(
            "crotaphytus-collaris", ("male", None), ("male", None), ("female", None), kind="timber"
        ),
        {"finding:company-males": "danger"},
    ),
    S(
        "a male collared lizard with two females",
        lambda: together(
            "crotaphytus-collaris", ("male", None), ("female", None), ("female", None), kind="timber"
        ),
        {"finding:company-males": None, "finding:company-alone": None},
    ),
    S(
        "three dart frogs that get on",
        lambda: together("dendrobates-leucomelas", ("unknown", None), ("unknown", None), ("unknown", None)),
        {"finding:company-alone": None, "finding:company-males": None},
    ),
    S(
        "two horned frogs",
        lambda: together("ceratophrys-ornata", ("unknown", None), ("unknown", None)),
        {"finding:company-alone": "fault"},
    ),
    S(
        "two king snakes of different size",
        lambda: together("lampropeltis-californiae", ("female", 0.9), ("female", 0.5), kind="pvc"),
        {"finding:company-sizes": "danger"},
    ),
    S(
        "tree frogs of one size",
        lambda: together("ranoidea-caerulea", ("unknown", 0.08), ("unknown", 0.075)),
        {"finding:company-sizes": None},
    ),
    S(
        "a large and a small skink that rival",
        lambda: together("egernia-stokesii", ("unknown", 0.18), ("unknown", 0.12), kind="timber"),
        {"finding:company-sizes": "fault"},
    ),
    S(
        "more animals listed than the plan counts",
        lambda: together(
            "dendrobates-leucomelas", ("unknown", None), ("unknown", None), ("unknown", None), count=2
        ),
        {"finding:too-many": "fault"},
    ),
    S(
        "a male crested gecko among females",
        lambda: together("correlophus-ciliatus", ("male", None), ("female", None), ("female", None)),
        {"finding:company-male": "fault"},
    ),
    S(
        "female leopard geckos whose sex is not said",
        lambda: together("eublepharis-macularius", count=2),
        {"finding:company-sexes": "care"},
    ),
    S(
        "two tarantulas in one box",
        lambda: together("brachypelma-smithi", ("female", None), ("female", None)),
        {"finding:company-alone": "fault"},
    ),
    S(
        "a group of stick insects",
        lambda: together(
            "extatosoma-tiaratum",
            ("unknown", None),
            ("unknown", None),
            ("unknown", None),
            ("unknown", None),
            kind="mesh",
        ),
        {"finding:company-alone": None},
    ),
    S("one animal alone", lambda: flooded(), {"finding:company-alone": None, "finding:cohabitation": None}),
    S(
        "three lizards and one basking spot",
        lambda: together(
            "pogona-henrylawsoni", ("male", None), ("female", None), ("female", None), kind="timber"
        ),
        {"finding:cohabitation": "fault"},
    ),
]
