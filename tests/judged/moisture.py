"""Moisture: a rhythm through the day, retreats against their own need, harm on one side only."""

from __future__ import annotations

from tests.judged.setups import Situation, hide, home, lamp, room

S = Situation
DAY, NIGHT = "cool_end:humidity", "night:humidity"
LOW = "lower:humidity"

WATER = [
    S(
        "a dart frog at half the humidity it needs",
        lambda: home("dendrobates-tinctorius", "glass", wet=0.0, drop=("water",), at=room(22, 19, 0.45)),
        {DAY: ("low", "fault")},
    ),
    S(
        "sprayed once in a dry mesh cage it is no better",
        lambda: home(
            "dendrobates-tinctorius", "mesh", wet=0.05, at=room(22, 19, 0.35), mist=(0.03, (8.0,))
        ),
        {DAY: "low"},
    ),
    S(
        "sprayed three times over wet moss it is right",
        lambda: home(
            "dendrobates-tinctorius",
            "glass",
            wet=0.8,
            at=room(22, 19, 0.65),
            mist=(0.25, (8.0, 13.0, 18.0)),
        ),
        {DAY: "ok", NIGHT: "ok"},
    ),
    S(
        "a dart frog in bone-dry air is in danger",
        lambda: home("phyllobates-terribilis", "mesh", wet=0.0, drop=("water",), at=room(22, 19, 0.25)),
        {DAY: ("low", "danger")},
    ),
    S(
        "a tree frog in a misted glass box is right",
        lambda: home(
            "agalychnis-callidryas", "glass", wet=0.5, at=room(24, 21, 0.55), mist=(0.12, (8.0, 20.0))
        ),
        {LOW: "ok", NIGHT: "ok"},
    ),
    S(
        "a waxy monkey frog wants it dry",
        lambda: home(
            "phyllomedusa-sauvagii", "glass", wet=0.6, at=room(24, 20, 0.7), mist=(0.4, (8.0, 12.0, 18.0))
        ),
        {LOW: ("high", "fault")},
    ),
    S(
        "a leopard gecko in damp air",
        lambda: home("eublepharis-macularius", "glass", wet=0.7, at=room(24, 20, 0.75)),
        {DAY: ("high", "fault")},
    ),
    S(
        "a leopard gecko in dry air takes no harm, with a moist hide",
        lambda: home("eublepharis-macularius", "glass", drop=("water",), at=room(24, 20, 0.18)),
        {DAY: ("low", "note"), "moist_hide:humidity": None},
    ),
    S(
        "a leopard gecko without a moist hide cannot shed",
        lambda: home("eublepharis-macularius", "glass", drop=("moist-hide",)),
        {"moist_hide:humidity": ("unknown", "fault")},
    ),
    S(
        "a corn snake without one does, most of the year",
        lambda: home("pantherophis-guttatus", "pvc", drop=("moist-hide",)),
        {"moist_hide:humidity": None},
    ),
    S(
        "a young rainbow boa in room air dries out",
        lambda: home(
            "epicrates-cenchria", "pvc", stage="young", wet=0.0, drop=("water",), at=room(25, 22, 0.4)
        ),
        {DAY: ("low", "fault")},
    ),
    S(
        "the same box on damp ground suits it better",
        lambda: home(
            "epicrates-cenchria",
            "pvc",
            stage="young",
            wet=0.9,
            at=room(24, 21, 0.65),
            mist=(0.1, (9.0, 21.0)),
        ),
        {DAY: "ok"},
    ),
    S(
        "a uromastyx in a damp room",
        lambda: home("uromastyx-ornata", "timber", wet=0.5, at=room(24, 20, 0.7)),
        {DAY: ("high", "fault")},
    ),
    S(
        "a uromastyx in the driest room is at home",
        lambda: home("uromastyx-ornata", "timber", drop=("water",), at=room(28, 22, 0.12)),
        {DAY: "ok"},
    ),
    S(
        "a mossy frog at 100 % is at home",
        lambda: home(
            "theloderma-corticale",
            "glass",
            wet=0.9,
            at=room(20, 18, 0.8),
            mist=(0.3, (8.0, 12.0, 16.0, 20.0)),
        ),
        {DAY: "ok"},
    ),
    S(
        "an emperor scorpion in desert air",
        lambda: home("pandinus-imperator", "glass", wet=0.0, drop=("water",), at=room(27, 23, 0.3)),
        {DAY: ("low", "fault")},
    ),
    S(
        "a desert scorpion in forest air",
        lambda: home("hadrurus-arizonensis", "glass", wet=0.8, at=room(27, 23, 0.7)),
        {DAY: ("high", "fault")},
    ),
    S(
        "a misted box without a vent goes stale",
        lambda: home("agalychnis-callidryas", "pvc", wet=0.4, mist=(0.2, (8.0, 14.0, 20.0))),
        {"finding:stale": None},
    ),
    S(
        "a panther chameleon's cage dries between sprays",
        lambda: home(
            "furcifer-pardalis",
            "mesh",
            lamp("halogen-flood", 35, 0.14, 0.3, 1.32),
            at=room(23, 18, 0.5),
            mist=(0.15, (7.0, 19.0)),
        ),
        {LOW: "ok", NIGHT: "ok"},
    ),
    S(
        "a green tree python in winter air from the heating",
        lambda: home("morelia-viridis", "pvc", wet=0.0, drop=("water",), at=room(24, 21, 0.25)),
        {LOW: ("low", "fault")},
    ),
    S(
        "a red-footed tortoise on dry soil",
        lambda: home("chelonoidis-carbonarius", "table", wet=0.0, drop=("water",), at=room(24, 21, 0.35)),
        {DAY: ("low", "fault")},
    ),
    S(
        "an axolotl is judged by its water, not by its air",
        lambda: home("ambystoma-mexicanum", "glass", at=room(17, 15, 0.2)),
        {DAY: None, "water:water_temperature": "ok"},
    ),
    S(
        "a retreat is judged by itself: a moist hide in a dry box",
        lambda: home(
            "hemitheconyx-caudicinctus",
            "glass",
            at=room(24, 20, 0.45),
            add=(hide(0.45, 0.1, 0.05, id="wet-hide", label="Wet hide", moist=True),),
            drop=("moist-hide",),
        ),
        {"wet-hide:humidity": "ok"},
    ),
]
