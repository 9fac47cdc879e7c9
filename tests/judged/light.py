"""UV and light: optional or needed, refuges where the animal is, glare by kind of animal."""

from __future__ import annotations

from tests.judged.setups import Situation, home, lamp, ledge, perch, room

S = Situation
UVI = "basking:uvi"
LOW = {"basking": {"underside_m": 0.08}}
BRANCHES = ("climbing-branch", "cross-branch")
SHADE = "enclosure:uv_free_share"

UV = [
    S(
        "a crested gecko without UV is right: it is optional",
        lambda: home("correlophus-ciliatus", "glass", lamp("led-bulb-9", 9, 0.22, 0.22, 0.8)),
        {UVI: ("low", "note"), SHADE: "ok"},
    ),
    S(
        "a bearded dragon without UV is not",
        lambda: home("pogona-vitticeps", "timber", lamp("halogen-pair", 70, 0.28, 0.3, 0.5, guard=True)),
        {UVI: ("low", "fault")},
    ),
    S(
        "a strong tube over a bearded dragon's slab gives what it needs",
        lambda: home(
            "pogona-vitticeps",
            "timber",
            lamp("t5-strong-85", None, 0.5, 0.35, 0.52),
            drop=BRANCHES,
            changed=LOW,
        ),
        {UVI: "ok", "finding:glare": None},
    ),
    S(
        "a mild tube does not",
        lambda: home("pogona-vitticeps", "timber", lamp("t8-mild-45", None, 0.3, 0.35, 0.55)),
        {UVI: ("low", "fault")},
    ),
    S(
        "the same strong tube blinds a tree frog on its top perch",
        lambda: home(
            "ranoidea-caerulea",
            "mesh",
            lamp("t5-strong-55", None, 0.225, 0.22, 0.65),
            size=(0.6, 0.45, 0.6),
            add=(perch(0.45, 0.1, 0.5, 0.22),),
        ),
        {"finding:glare": "danger"},
    ),
    S(
        "UVI 4 is nothing to a collared lizard",
        lambda: home("crotaphytus-collaris", "timber", lamp("t5-strong-85", None, 0.5, 0.35, 0.56)),
        {"finding:glare": None},
    ),
    S(
        "UVI 4 burns a leaf-tailed gecko",
        lambda: home(
            "uroplatus-phantasticus",
            "mesh",
            lamp("t5-strong-55", None, 0.225, 0.22, 0.65),
            size=(0.6, 0.45, 0.6),
            add=(perch(0.45, 0.1, 0.5, 0.22),),
        ),
        {"finding:glare": "danger"},
    ),
    S(
        "a pale bearded dragon gets half",
        lambda: home(
            "pogona-vitticeps",
            "timber",
            lamp("t5-strong-85", None, 0.5, 0.35, 0.52),
            animal={"low_pigment": True},
        ),
        {UVI: "high"},
    ),
    S(
        "a lit ledge is no refuge for a climber, whatever the floor",
        lambda: home(
            "correlophus-ciliatus",
            "mesh",
            lamp("t5-mild-55", None, 0.3, 0.22, 0.65),
            size=(0.6, 0.45, 0.6),
            drop=(
                "climbing-branch",
                "cross-branch",
                "leaves",
                "shade-shelf",
                "warm-hide",
                "cool-hide",
                "moist-hide",
            ),
        ),
        {SHADE: ("low", "fault")},
    ),
    S(
        "leaves and hides give a climber its dark",
        lambda: home("correlophus-ciliatus", "mesh", lamp("compact-mild-9", None, 0.1, 0.2, 0.7)),
        {SHADE: "ok", "finding:no-cover": None},
    ),
    S(
        "UV over a desert scorpion has no place",
        lambda: home("hadrurus-arizonensis", "glass", lamp("t5-mild-30", None, 0.3, 0.2, 0.4)),
        {"finding:uv-avoided": "fault"},
    ),
    S(
        "UV over a fire salamander has none either",
        lambda: home(
            "salamandra-salamandra", "glass", lamp("t5-mild-30", None, 0.3, 0.2, 0.45), at=room(16, 12)
        ),
        {"finding:uv-avoided": "fault"},
    ),
    S(
        "light alone does a fire salamander no harm",
        lambda: home(
            "salamandra-salamandra", "glass", lamp("led-bulb-9", 9, 0.3, 0.2, 0.6), at=room(16, 12)
        ),
        {"finding:uv-avoided": None, "finding:light-avoided": None},
    ),
    S(
        "a lamp over a burrowing tarantula keeps it below",
        lambda: home("tliltocatl-vagans", "glass", lamp("led-spot-7", 7, 0.17, 0.15, 0.5)),
        {"finding:light-avoided": "care"},
    ),
    S(
        "a red lamp at night helps nobody",
        lambda: home(
            "eublepharis-macularius", "glass", lamp("household-60", 40, 0.2, 0.22, 0.7, lit="night")
        ),
        {"finding:night-light": "care"},
    ),
    S(
        "a ceramic at night gives no light",
        lambda: home(
            "eublepharis-macularius", "glass", lamp("ceramic-small", 40, 0.2, 0.22, 0.7, lit="night")
        ),
        {"finding:night-light": None},
    ),
    S(
        "an old tube gives a bearded dragon too little",
        lambda: home(
            "pogona-vitticeps", "timber", lamp("t5-strong-85", None, 0.5, 0.35, 0.55, hours=9000.0)
        ),
        {"finding:old": "fault"},
    ),
    S(
        "heat at one end and UV at the other cannot be had together",
        lambda: home(
            "pogona-vitticeps",
            "timber",
            lamp("halogen-pair", 70, 0.28, 0.3, 0.5, guard=True),
            lamp("t5-strong-55", None, 0.9, 0.3, 0.42),
            changed=LOW,
            drop=("shade-shelf", "leaves", *BRANCHES),
        ),
        {"finding:apart": "fault"},
    ),
    S(
        "a tube through a fine mesh reaches a day gecko too weakly",
        lambda: home("phelsuma-grandis", "mesh", lamp("t5-medium-55", None, 0.3, 0.22, 1.25)),
        {UVI: ("low", "fault")},
    ),
    S(
        "a weak tube under a high lid leaves a tortoise short",
        lambda: home(
            "testudo-hermanni",
            "pvc",
            lamp("t8-medium-90", None, 0.9, 0.35, 0.68),
            size=(1.8, 0.8, 0.7),
        ),
        {UVI: ("low", "fault")},
    ),
    S(
        "a mercury lamp a hand above a tortoise's shell",
        lambda: home(
            "testudo-hermanni",
            "table",
            lamp("mercury-flood-160", None, 0.35, 0.35, 0.34),
            add=(ledge(0.35, 0.35, 0.2, 0.06, size=(0.3, 0.3), of="slate"),),
            depth=0.06,
            drop=("basking",),
        ),
        {"finding:clearance": "danger"},
    ),
]
