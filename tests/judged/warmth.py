"""Warmth: basking as an offer, the ceiling of every surface, ends, heights and depth, rooms and seasons."""

from __future__ import annotations

from dataclasses import replace

from tests.judged.setups import Situation, held_at, hide, home, lamp, ledge, mat, perch, pool, room

S = Situation
HOT = "reachable:surface_temperature"
BASK = "basking:surface_temperature"
GRADIENT = "enclosure:gradient"
LEO = "eublepharis-macularius"
DRAGON = "pogona-vitticeps"
# The slab near the ground, not as high as the furnisher puts it for a climber.
LOW = {"basking": {"underside_m": 0.08}}
CORN = "pantherophis-guttatus"


def leopard(*lamps, **how):  # type: ignore[no-untyped-def]
    """A leopard gecko's low box without a raised slab: the floor is where it warms itself."""
    how.setdefault("drop", ("basking",))
    return home(LEO, "glass", *lamps, **how)


BASKING = [
    S(
        "a warm floor over a mat is a leopard gecko's basking spot",
        lambda: leopard(mat(18, 0.2, 0.22), depth=0.02, ground="clay-tile"),
        {BASK: "ok", HOT: "ok"},
    ),
    S(
        "a leopard gecko on a cold floor has no belly warmth",
        lambda: leopard(at=room(20, 16), depth=0.02),
        {BASK: ("low", "fault"), "finding:no-heat": "fault"},
    ),
    S(
        "a mat at full power without a thermostat burns a leopard gecko",
        lambda: leopard(mat(25, 0.2, 0.22), depth=0.005, ground="clay-tile", at=room(27, 24)),
        {BASK: ("high", "danger"), "finding:uncontrolled": "danger"},
    ),
    S(
        "a low-watt flood over slate warms a leopard gecko too",
        lambda: home(LEO, "glass", lamp("halogen-flood", 35, 0.21, 0.225, 0.5), at=room(22, 18)),
        {BASK: "ok"},
    ),
    S(
        "75 W over a leopard gecko's slab is far too hot",
        lambda: home(LEO, "glass", lamp("halogen-flood", 75, 0.21, 0.225, 0.5)),
        {BASK: ("high", "danger")},
    ),
    S(
        "a bearded dragon under two weak floods has its patch",
        lambda: home(DRAGON, "timber", lamp("halogen-pair", 60, 0.28, 0.3, 0.55, guard=True), changed=LOW),
        {BASK: "ok", "finding:patch": None},
    ),
    S(
        "a spot over a tegu burns a point and leaves the rest cold",
        lambda: home("salvator-merianae", "timber", lamp("halogen-spot", 75, 0.55, 0.6, 0.9, guard=True)),
        {"finding:spot": "fault", "finding:patch": "fault"},
    ),
    S(
        "a tortoise under one weak bulb stays half cold",
        lambda: home("centrochelys-sulcata", "table", lamp("halogen-spot", 50, 0.9, 1.2, 0.75)),
        {"finding:patch": "fault"},
    ),
    S(
        "without any heater a bearded dragon is cold",
        lambda: home(DRAGON, "timber"),
        {BASK: ("low", "fault"), "finding:no-heat": "fault", GRADIENT: ("low", "fault")},
    ),
    S(
        "an alpine lizard may do without a heater",
        lambda: home(
            "abronia-graminea", "mesh", lamp("t5-medium-55", None, 0.3, 0.25, 0.95), at=room(21, 15)
        ),
        {"finding:no-heat": None, BASK: "low"},
    ),
    S(
        "one of two ledges in the range is enough for a panther chameleon",
        lambda: home(
            "furcifer-pardalis",
            "mesh",
            lamp("halogen-flood", 35, 0.14, 0.3, 1.32),
            at=room(23, 18),
            add=(ledge(0.14, 0.3, 0.75, 0.04, basking=True),),
        ),
        {BASK: "ok"},
    ),
    S(
        "a hide that is also the basking platform is both",
        lambda: home(
            CORN,
            "pvc",
            lamp("halogen-flood", 50, 0.28, 0.3, 0.42, guard=True),
            drop=("basking",),
            add=(hide(0.28, 0.3, 0.08, id="platform", label="Slate hide", size=(0.3, 0.25)),),
        ),
        {BASK: "ok", "finding:no-hide": None},
    ),
    S(
        "a corn snake over a mat that its thermostat keeps is warm and safe",
        lambda: home(
            CORN,
            "pvc",
            mat(20, 0.3, 0.3, "mat-28", "t"),
            controls=(held_at(30, 0.3, 0.3, 0.012, 30, "pulse"),),
            drop=("basking",),
            depth=0.01,
        ),
        {BASK: "ok", HOT: "ok", "cool_end:air_temperature": "ok"},
    ),
    S(
        "a boa under a panel has its warm floor",
        lambda: home(
            "boa-imperator",
            "pvc",
            lamp("radiant-panel-80", 80, 0.45, 0.45, 0.86, mount="screwed"),
            drop=("basking",),
            at=room(23, 20),
        ),
        {"finding:clearance": None, "finding:fitting": None, HOT: "ok"},
    ),
    S(
        "a ball python's mat under thick ground never reaches it",
        lambda: home(
            "python-regius",
            "pvc",
            mat(16, 0.3, 0.3, "mat-28"),
            drop=("basking", "climbing-branch", "cross-branch"),
            depth=0.12,
            at=room(22, 20),
        ),
        {BASK: ("low", "fault")},
    ),
    S(
        "a desert lizard finds its slate hot enough under 50 W",
        lambda: home(
            "uromastyx-ornata", "timber", lamp("halogen-flood", 50, 0.28, 0.3, 0.5, guard=True), depth=0.12
        ),
        {BASK: "ok"},
    ),
    S(
        "the same slate would kill a water dragon's feet",
        lambda: home(
            "intellagama-lesueurii",
            "timber",
            lamp("halogen-flood", 150, 0.46, 0.5, 1.25, guard=True),
            changed={"basking": {"underside_m": 0.9}},
        ),
        {BASK: ("high", "danger")},
    ),
]

CEILING = [
    S(
        "a 250 W ceramic over a dart frog's ground is a danger by night",
        lambda: home(
            "dendrobates-tinctorius",
            "glass",
            lamp("ceramic-heater", 250, 0.3, 0.22, 0.42, lit="night", guard=True),
        ),
        {HOT: ("high", "danger")},
    ),
    S(
        "a small ceramic on a thermostat is none",
        lambda: home(
            "ranoidea-caerulea",
            "glass",
            lamp("ceramic-small", 25, 0.22, 0.22, 0.85, lit="night", thermostat_id="t"),
            controls=(held_at(19, 0.3, 0.3, 0.3, 19),),
            at=room(21, 17),
        ),
        {HOT: "ok"},
    ),
    S(
        "a mat under a burrower is a danger at the bottom of its burrow",
        lambda: home("brachypelma-hamorii", "glass", mat(16, 0.17, 0.15), depth=0.12),
        {HOT: ("high", "danger"), "finding:mat-digger": "danger"},
    ),
    S(
        "a tarantula at room temperature is right",
        lambda: home("brachypelma-hamorii", "glass", at=room(23, 20, 0.5), depth=0.12),
        {
            HOT: "ok",
            "warm_end:air_temperature": "ok",
            "finding:no-heat": None,
            "finding:ground-shallow": None,
        },
    ),
    S(
        "a branch under a bulb is too hot for a crested gecko",
        lambda: home(
            "correlophus-ciliatus",
            "glass",
            lamp("halogen-flood", 50, 0.16, 0.19, 0.72),
            drop=("basking",),
            add=(perch(0.5, 0.05, 0.3, 0.19),),
        ),
        {HOT: ("high", "danger")},
    ),
    S(
        "a crested gecko in a lit room needs no heater",
        lambda: home(
            "correlophus-ciliatus", "glass", lamp("led-bulb-9", 9, 0.22, 0.22, 0.8), at=room(22, 19)
        ),
        {HOT: "ok", "upper:air_temperature": "ok", "finding:no-heat": None, GRADIENT: "low"},
    ),
    S(
        "a basking lamp over a fire salamander endangers it",
        lambda: home("salamandra-salamandra", "glass", lamp("halogen-flood", 50, 0.2, 0.25, 0.5)),
        {HOT: ("high", "danger"), "finding:heat-avoided": "fault"},
    ),
    S(
        "a day gecko's ledge at 110 °C was once proposed",
        lambda: home("phelsuma-grandis", "glass", lamp("halogen-flood", 150, 0.16, 0.22, 1.0)),
        {BASK: ("high", "danger")},
    ),
    S(
        "a fence lizard's stone at 90 °C was too",
        lambda: home(
            "sceloporus-occidentalis", "timber", lamp("halogen-flood", 150, 0.21, 0.22, 0.5, guard=True)
        ),
        {BASK: ("high", "danger")},
    ),
    S(
        "a side mat warms a tree frog's wall too much",
        lambda: home(
            "ranoidea-caerulea",
            "glass",
            replace(mat(25, 0.0, 0.22), mount="left", position_m=(0.0, 0.22, 0.3)),
            at=room(24, 21),
        ),
        {HOT: "high"},
    ),
    S(
        "a snake's mat at 45 °C burns its belly",
        lambda: home(CORN, "pvc", mat(25, 0.3, 0.3), drop=("basking",), depth=0.01, at=room(27, 24)),
        {BASK: "high", "finding:uncontrolled": "danger"},
    ),
    S(
        "a ball python's ground under a bare ceramic at night",
        lambda: home(
            "python-regius",
            "pvc",
            lamp("ceramic-heater", 150, 0.3, 0.3, 0.4, lit="night", guard=True),
            at=room(24, 22),
        ),
        {HOT: ("high", "danger")},
    ),
]

PLACES = [
    S(
        "a chameleon without a lamp in a cold room finds no warm perch",
        lambda: home("furcifer-pardalis", "mesh", at=room(17, 14)),
        {"upper:air_temperature": ("low", "fault"), "finding:no-heat": "fault"},
    ),
    S(
        "climbers are judged by height: a chameleon's canopy is warm, its foot cool",
        lambda: home(
            "furcifer-pardalis", "mesh", lamp("halogen-flood", 35, 0.14, 0.3, 1.32), at=room(23, 18)
        ),
        {"upper:air_temperature": "ok", "lower:air_temperature": "ok", GRADIENT: "ok"},
    ),
    S(
        "a chameleon in a hot room finds no cool place low down",
        lambda: home(
            "trioceros-jacksonii", "mesh", lamp("halogen-flood", 35, 0.14, 0.3, 1.12), at=room(27, 24)
        ),
        {"lower:air_temperature": ("high", "fault"), "night:air_temperature": ("high", "fault")},
    ),
    S(
        "a tree boa's ends do not count, its perches do",
        lambda: home(
            "corallus-hortulana",
            "pvc",
            lamp("radiant-panel-40", 40, 0.3, 0.3, 0.86, mount="screwed"),
            at=room(23, 21),
            drop=("basking",),
            add=(perch(0.62, 0.1, 0.7, 0.3, 0.035),),
        ),
        {"upper:air_temperature": "ok", "lower:air_temperature": "ok"},
    ),
    S(
        "a panel over the whole lid leaves a corn snake no choice",
        lambda: home(
            CORN,
            "pvc",
            lamp("radiant-panel-long", 100, 0.6, 0.3, 0.42, mount="screwed", thermostat_id="t"),
            controls=(held_at(28, 0.6, 0.3, 0.15),),
            drop=("basking", "cover", "shade-shelf", "climbing-branch", "cross-branch", "leaves"),
        ),
        {GRADIENT: ("low", "fault")},
    ),
    S(
        "a box full of heat has a gradient in name only",
        lambda: home(
            "lampropeltis-californiae",
            "pvc",
            mat(28, 0.45, 0.25, "mat-58"),
            replace(mat(28, 1.0, 0.25, "mat-58"), id="mat-2"),
            drop=("basking", "shade-shelf"),
            size=(1.2, 0.5, 0.4),
        ),
        {"finding:gradient": "care"},
    ),
    S(
        "a king snake warmed at one end has its choice",
        lambda: home(
            "lampropeltis-californiae",
            "pvc",
            lamp("halogen-flood", 35, 0.28, 0.3, 0.45, guard=True),
        ),
        {GRADIENT: "ok"},
    ),
    S(
        "a crested gecko whose middle perches are in heat as well",
        lambda: home(
            "correlophus-ciliatus",
            "glass",
            lamp("halogen-flood", 75, 0.22, 0.22, 0.85, guard=True),
            at=room(27, 24, 0.6),
        ),
        {"middle:air_temperature": "high"},
    ),
    S(
        "the same gecko in a cool room without a lamp",
        lambda: home("correlophus-ciliatus", "glass", at=room(23, 20, 0.6)),
        {"middle:air_temperature": "ok"},
    ),
    S(
        "a mountain tarantula deep in its burrow stays cool",
        lambda: home("selenocosmia-crassipes", "glass", depth=0.25, at=room(24, 21, 0.6)),
        {"burrow:air_temperature": "ok", "finding:ground-shallow": None},
    ),
    S(
        "the same animal on three centimetres has no burrow at all",
        lambda: home("selenocosmia-crassipes", "glass", depth=0.03, at=room(24, 21, 0.6)),
        {"burrow:air_temperature": ("unknown", "fault"), "finding:ground-shallow": "fault"},
    ),
    S(
        "an axolotl in a warm room is in danger in its water",
        lambda: home(
            "ambystoma-mexicanum",
            "glass",
            at=room(27, 24),
            add=(pool(0.4, 0.2, (0.7, 0.34, 0.25)),),
            drop=("water", "basking", "warm-hide", "cool-hide", "shade-shelf", "cover"),
        ),
        {"water:water_temperature": ("high", "danger")},
    ),
    S(
        "an axolotl in a cool cellar is right",
        lambda: home(
            "ambystoma-mexicanum",
            "glass",
            at=room(17, 15),
            add=(pool(0.4, 0.2, (0.7, 0.34, 0.25)),),
            drop=("water", "basking", "warm-hide", "cool-hide", "shade-shelf", "cover"),
        ),
        {"water:water_temperature": "ok", HOT: "ok", "finding:no-heat": None},
    ),
    S(
        "an axolotl without water cannot live",
        lambda: home("ambystoma-mexicanum", "glass", at=room(17, 15), drop=("water",)),
        {"water:water_temperature": ("unknown", "fault")},
    ),
    S(
        "a fire-bellied toad's water follows a warm room",
        lambda: home("bombina-orientalis", "glass", at=room(29, 26)),
        {"water:water_temperature": "high"},
    ),
    S(
        "a slider's water is cold in a cellar",
        lambda: home(
            "trachemys-scripta", "glass", lamp("halogen-flood", 75, 0.35, 0.35, 0.85), at=room(15, 12)
        ),
        {"water:water_temperature": ("low", "fault")},
    ),
]

ROOMS = [
    S(
        "a steppe tortoise indoors by day, cool at night, is right",
        lambda: home(
            "testudo-horsfieldii",
            "table",
            lamp("halogen-four", 140, 0.42, 0.45, 0.55),
            at=room(22, 14),
            depth=0.2,
        ),
        {"night:air_temperature": "ok", "cool_end:air_temperature": "ok"},
    ),
    S(
        "a sulcata in a cold shed at night is not",
        lambda: home("centrochelys-sulcata", "table", at=room(20, 9)),
        {"night:air_temperature": ("low", "danger")},
    ),
    S(
        "a fire salamander in a room of 26 °C is in danger",
        lambda: home("salamandra-salamandra", "glass", at=room(26, 22)),
        {"warm_end:air_temperature": ("high", "danger")},
    ),
    S(
        "a fire salamander in a cool cellar is right",
        lambda: home("salamandra-salamandra", "glass", at=room(16, 12, 0.75), wet=0.4),
        {
            "warm_end:air_temperature": "ok",
            "night:air_temperature": "ok",
            "finding:no-heat": None,
            "finding:summer-unknown": "care",
        },
    ),
    S(
        "a summer room above a salamander's ceiling is a danger",
        lambda: home("salamandra-salamandra", "glass", at=room(16, 12, 0.75, summer=27)),
        {"finding:summer-hot": "danger"},
    ),
    S(
        "a summer room just below it leaves no margin",
        lambda: home("salamandra-salamandra", "glass", at=room(16, 12, 0.75, summer=23)),
        {"finding:summer-hot": "fault"},
    ),
    S(
        "a leaf-tailed gecko under the roof in summer",
        lambda: home("uroplatus-phantasticus", "mesh", at=room(22, 18, 0.6, summer=31)),
        {"finding:summer-hot": "danger"},
    ),
    S(
        "a bearded dragon does not mind a summer of 31 °C",
        lambda: home(DRAGON, "timber", at=room(22, 18, 0.45, summer=31)),
        {"finding:summer-hot": None, "finding:summer-unknown": None},
    ),
    S(
        "no lizard bears a room of 47 °C",
        lambda: home(DRAGON, "timber", at=room(22, 18, 0.45, summer=47)),
        {"finding:summer-hot": "danger"},
    ),
    S(
        "hatchling geckos in an unheated room in winter",
        lambda: home(LEO, "glass", at=room(18, 14), stage="young"),
        {"night:air_temperature": ("low", "fault")},
    ),
    S(
        "a Jackson's chameleon wants the cold night",
        lambda: home("trioceros-jacksonii", "mesh", at=room(21, 12)),
        {"night:air_temperature": "ok"},
    ),
    S(
        "a ball python does not",
        lambda: home("python-regius", "pvc", at=room(21, 12)),
        {"night:air_temperature": ("low", "danger")},
    ),
    S(
        "a rough green snake is kept by height",
        lambda: home(
            "opheodrys-aestivus", "mesh", lamp("halogen-flood", 50, 0.2, 0.3, 1.0), at=room(22, 18)
        ),
        {"upper:air_temperature": "ok", "night:air_temperature": "ok"},
    ),
    S(
        "mossy frogs are warm enough in any room",
        lambda: home("theloderma-corticale", "glass", at=room(21, 18)),
        {"finding:no-heat": None, HOT: "ok"},
    ),
    S(
        "a dart frog in a room of 28 °C is too warm",
        lambda: home("dendrobates-tinctorius", "glass", at=room(30, 26)),
        {"warm_end:air_temperature": "high", "cool_end:air_temperature": "high"},
    ),
]
