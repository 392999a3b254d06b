"""The demo fleet of the Skerrow Island depot: every name, plate, oil and story in it is invented."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from barodex.core.sheet import Plug
from barodex.shelf.actions import Figures, Oil, Source

M, V, G, R = ("manual", "verified"), ("plate", "verified"), ("guess", "guessed"), ("memory", "remembered")


def _sources(
    capacity: tuple[str, str] = M, oil: tuple[str, str] = M, interval: tuple[str, str] = M, torque: tuple[str, str] = M
) -> tuple[Source, ...]:
    rows = (("capacity", capacity), ("oil", oil), ("interval", interval), ("torque", torque))
    return tuple(Source(figure, source, trust) for figure, (source, trust) in rows)


def _plugs(
    fill: float | None,
    drain: float | None,
    drive: str = "hex socket",
    size: float = 10,
    seal: str = "crush washer",
    magnet: bool = True,
) -> tuple[Plug, ...]:
    return (
        Plug("fill", "fill plug", drive, size, seal, fill),
        Plug("drain", "drain plug", drive, size, seal, drain, magnet),
    )


OILS = (
    Oil(
        "Tarn 75W-80",
        "gear",
        "75W-80",
        "GL-4",
        868,
        safe_for_yellow_metal=True,
        packs=((1000, Decimal("11.20")), (5000, Decimal("48.00"))),
    ),
    Oil("Tarn 75W-90", "gear", "75W-90", "GL-4", 872, safe_for_yellow_metal=True, packs=((1000, Decimal("12.40")),)),
    Oil(
        "Corrie 80W-90",
        "gear",
        "80W-90",
        "GL-5",
        896,
        packs=((1000, Decimal("7.90")), (5000, Decimal("34.50")), (20000, Decimal("118.00"))),
    ),
    Oil(
        "Corrie LS 80W-90",
        "gear",
        "80W-90",
        "GL-5",
        897,
        friction_modifier=True,
        settles=True,
        packs=((1000, Decimal("10.60")),),
    ),
    Oil("Corrie 85W-140", "gear", "85W-140", "GL-5", 907, packs=((1000, Decimal("9.10")),)),
    Oil("Skerry Mono 30", "engine", "SAE 30", "", 889, packs=((5000, Decimal("29.00")),)),
    Oil("Burn ATF", "atf", "", "", 848, packs=((1000, Decimal("9.80")), (5000, Decimal("41.00")))),
    Oil("Moss coupling fluid", "clutch fluid", "", "", 860, packs=((1000, Decimal("38.00")),)),
    Oil("Wisp ester", "ester turbine", "", "", 985, packs=((250, Decimal("24.00")),)),
    Oil("Post hub oil", "hub", "", "", 870, packs=((25, Decimal("8.00")),)),
    Oil("Floe chain oil", "chain case", "", "", 865, packs=((1000, Decimal("14.00")),)),
)

# lubricant, label, size mL, content mL
SHELF = (
    ("Tarn 75W-80", "Tarn 80 opened", 1000, 640),
    ("Tarn 75W-80", "Tarn 80 bottle A", 1000, 1000),
    ("Tarn 75W-80", "Tarn 80 bottle B", 1000, 1000),
    ("Tarn 75W-90", "Tarn 90 bottle A", 1000, 1000),
    ("Tarn 75W-90", "Tarn 90 bottle B", 1000, 1000),
    ("Tarn 75W-90", "Tarn 90 bottle C", 1000, 1000),
    ("Corrie 80W-90", "Corrie drum", 20000, 14200),
    ("Corrie 80W-90", "Corrie opened", 1000, 350),
    ("Corrie LS 80W-90", "Corrie LS bottle A", 1000, 1000),
    ("Corrie LS 80W-90", "Corrie LS bottle B", 1000, 1000),
    ("Corrie 85W-140", "Corrie 140 opened", 1000, 420),
    ("Skerry Mono 30", "Mono can A", 5000, 5000),
    ("Skerry Mono 30", "Mono can B", 5000, 1800),
    ("Burn ATF", "Burn bottle A", 1000, 1000),
    ("Burn ATF", "Burn opened", 1000, 700),
    ("Wisp ester", "Wisp bottle", 250, 250),
    ("Post hub oil", "Hub oil vial", 25, 25),
    ("Floe chain oil", "Floe bottle", 1000, 560),
)
UNGRADUATED = ("Corrie drum", "Mono can A", "Mono can B")

# name: (kind, figures)
SHEETS: dict[str, tuple[str, Figures]] = {
    "Truck gearbox, constant mesh": (
        "manual gearbox",
        Figures(
            "engine",
            8500,
            "SAE 30",
            fill_method="to the lip",
            case_material="iron",
            drain_minutes=45,
            interval_km=40_000,
            interval_months=24,
            plugs=_plugs(60, 68, "square", 14),
            level_note="One finger joint below the hole is right for this box.",
            cautions=("Non-detergent engine oil; a heavy gear oil makes it shift badly.",),
            sources=_sources(),
        ),
    ),
    "Truck transfer case, gear": (
        "transfer case",
        Figures(
            "gear",
            3600,
            "80W-90",
            "GL-5",
            yellow_metal=False,
            case_material="iron",
            interval_km=60_000,
            interval_months=36,
            plugs=_plugs(60, 60, "square", 14),
            sources=_sources(),
        ),
    ),
    "Truck axle, double reduction": (
        "axle",
        Figures(
            "gear",
            6200,
            "80W-90",
            "GL-5",
            hypoid=True,
            yellow_metal=False,
            limited_slip=False,
            case_material="iron",
            drain_minutes=40,
            interval_km=60_000,
            interval_months=36,
            plugs=_plugs(80, 80, "square", 14),
            sources=_sources(),
        ),
    ),
    "Five-speed gearbox, brass rings": (
        "manual gearbox",
        Figures(
            "gear",
            1850,
            "75W-80",
            "GL-4",
            yellow_metal=True,
            case_material="aluminium",
            drain_minutes=25,
            interval_km=60_000,
            interval_months=48,
            plugs=_plugs(37, 43, size=12),
            cautions=("Aluminium threads: start every plug by hand.",),
            sources=_sources(V),
        ),
    ),
    "Part-time transfer case, gear": (
        "transfer case",
        Figures(
            "gear",
            1300,
            "75W-90",
            "GL-4",
            yellow_metal=False,
            case_material="aluminium",
            interval_km=60_000,
            interval_months=48,
            plugs=_plugs(30, 30),
            sources=_sources(),
        ),
    ),
    "Light 4x4 front axle": (
        "axle",
        Figures(
            "gear",
            1500,
            "80W-90",
            "GL-5",
            hypoid=True,
            yellow_metal=False,
            limited_slip=False,
            case_material="iron",
            interval_km=40_000,
            interval_months=36,
            plugs=_plugs(49, 49),
            sources=_sources(),
        ),
    ),
    "Light 4x4 rear axle, limited slip": (
        "axle",
        Figures(
            "gear",
            2000,
            "80W-90",
            "GL-5",
            hypoid=True,
            yellow_metal=False,
            limited_slip=True,
            case_material="iron",
            interval_km=40_000,
            interval_months=36,
            plugs=_plugs(49, 49),
            cautions=("Clutch-type limited slip: the modifier must be in the oil.",),
            sources=_sources(),
        ),
    ),
    "Six-speed automatic, cooler outside": (
        "automatic",
        Figures(
            "atf",
            9500,
            fill_method="to the lip",
            plugs=_plugs(35, 20, size=8),
            interval_km=90_000,
            interval_months=72,
            sources=_sources(interval=("oil maker", "remembered")),
        ),
    ),
    "Clutch transfer case": (
        "clutch transfer case",
        Figures(
            "clutch fluid",
            650,
            fill_method="measured",
            plugs=_plugs(25, 25),
            interval_km=50_000,
            interval_months=48,
            sources=_sources(),
        ),
    ),
    "Van gearbox, two capacities": (
        "transaxle",
        Figures(
            "gear",
            2300,
            "75W-80",
            "GL-4",
            yellow_metal=True,
            fill_method="measured",
            case_material="aluminium",
            drain_minutes=30,
            plugs=_plugs(None, 35, "hex head", 22),
            interval_km=80_000,
            interval_months=60,
            sources=_sources(("bulletin", "verified"), torque=R),
        ),
    ),
    "Motorcycle gearbox": (
        "manual gearbox",
        Figures(
            "gear",
            800,
            "80W-90",
            "GL-5",
            yellow_metal=False,
            case_material="aluminium",
            plugs=_plugs(30, 30, size=8),
            interval_km=20_000,
            interval_months=24,
            sources=_sources(),
        ),
    ),
    "Motorcycle bevel drive": (
        "bevel drive",
        Figures(
            "gear",
            180,
            "85W-140",
            "GL-5",
            hypoid=True,
            yellow_metal=False,
            limited_slip=False,
            fill_method="measured",
            case_material="aluminium",
            drain_minutes=15,
            plugs=_plugs(23, 20, size=6, magnet=True),
            interval_km=20_000,
            interval_months=24,
            sources=_sources(),
        ),
    ),
    "Marine gearbox, one to two": (
        "marine gearbox",
        Figures(
            "engine",
            1100,
            "SAE 30",
            fill_method="dipstick",
            drain_method="suction",
            case_material="iron",
            warm_up=False,
            plugs=(Plug("dipstick", "dipstick", "by hand", None, "O-ring", None),),
            interval_h=200,
            interval_months=12,
            cautions=("Read the plate on the case: some of these take ATF.",),
            sources=_sources(V, V),
        ),
    ),
    "Snow machine chain case": (
        "chain case",
        Figures(
            "chain case",
            250,
            fill_method="dipstick",
            drain_method="suction",
            interval_months=12,
            plugs=(Plug("dipstick", "dipstick", "by hand", None, "O-ring", None),),
            sources=_sources(),
        ),
    ),
    "Eight-speed hub gear": (
        "hub gear",
        Figures(
            "hub",
            25,
            fill_method="measured",
            drain_method="suction",
            interval_km=5_000,
            interval_months=12,
            sources=_sources(),
        ),
    ),
    "Twin-screw supercharger": (
        "supercharger",
        Figures(
            "ester turbine",
            140,
            fill_method="measured",
            drain_method="suction",
            interval_km=60_000,
            interval_months=36,
            sources=_sources(),
        ),
    ),
    "Close-ratio gearbox": (
        "manual gearbox",
        Figures(
            "gear",
            2100,
            "75W-90",
            "GL-4",
            yellow_metal=True,
            case_material="aluminium",
            plugs=_plugs(40, 40, size=14),
            interval_km=30_000,
            interval_months=24,
            sources=_sources(),
        ),
    ),
    "Coupé rear axle, limited slip": (
        "axle",
        Figures(
            "gear",
            None,
            "80W-90",
            "GL-5",
            hypoid=True,
            yellow_metal=False,
            limited_slip=True,
            case_material="aluminium",
            plugs=_plugs(None, None, size=14),
            sources=_sources(("guess", "unknown"), torque=("guess", "unknown")),
        ),
    ),
    "Hatchback gearbox": (
        "transaxle",
        Figures(
            "gear",
            1900,
            "75W-80",
            "GL-4",
            yellow_metal=True,
            case_material="aluminium",
            plugs=_plugs(35, 35, size=8),
            sources=_sources(),
        ),
    ),
    "Electronic front differential": (
        "electronic differential",
        Figures(
            "clutch fluid",
            550,
            fill_method="to the lip",
            warm_up=False,
            plugs=_plugs(15, 15, size=6),
            interval_km=16_000,
            interval_months=36,
            sources=_sources(),
        ),
    ),
    "Bus transaxle, magnesium": (
        "transaxle",
        Figures(
            "gear",
            3500,
            "80W-90",
            "GL-4",
            yellow_metal=True,
            case_material="magnesium",
            drain_minutes=30,
            plugs=_plugs(20, 20, size=17, magnet=True),
            interval_km=40_000,
            interval_months=24,
            cautions=("Fifty years old and magnesium: rock the plugs gently, never heat, never hit.",),
            sources=_sources(R),
        ),
    ),
}


@dataclass(frozen=True)
class Change:
    """An earlier change: days ago, oil, what came out (mL at °C), what went in (mL), what was seen."""

    days_ago: int
    oil: str
    drained_ml: float | None
    drained_c: float
    poured_ml: float | None
    finding: dict[str, Any] | None = None
    note: str = ""
    factory_fill: bool = False


def seen(
    magnet: str | None,
    colour: str,
    *particles: tuple[str, str, int, float],
    clarity: str = "clear",
    smell: str = "none",
) -> dict[str, Any]:
    """A finding in short."""
    return {
        "magnet": magnet,
        "colour": colour,
        "clarity": clarity,
        "smell": smell,
        "particles": [{"form": f, "metal": m, "count": n, "size_mm": s} for f, m, n, s in particles],
    }


PASTE = ("paste", "steel", 1, 0.1)


@dataclass(frozen=True)
class Box:
    """A compartment of a demo vehicle with its past."""

    name: str
    slot: str
    sheet: str
    changes: tuple[Change, ...] = ()


@dataclass(frozen=True)
class Machine:
    """A demo vehicle: meter today, use per day, share off the road."""

    name: str
    plate: str
    kind: str
    layout: str
    meter: str
    today: float
    per_day: float
    boxes: tuple[Box, ...]
    off_road: float = 0.0
    note: str = ""
    warranty_days: int | None = None
    seasonal: bool = False


def _steady(oil: str, fill: float, *days: int, loss: float = 0.01, colour: str = "brown") -> tuple[Change, ...]:
    """A past without a story."""
    return tuple(
        Change(
            d,
            oil,
            None if k == 0 else round(fill * (1 - loss) * 1.015, -1),
            36,
            fill,
            None if k == 0 else seen("film", colour, PASTE),
        )
        for k, d in enumerate(days)
    )


FLEET: tuple[Machine, ...] = (
    Machine(
        "Timber truck",
        "SKR 611",
        "truck",
        "six-by-six",
        "km",
        184_310,
        46,
        (
            Box("Front axle", "front axle", "Truck axle, double reduction", _steady("Corrie 80W-90", 6200, 1190, 430)),
            Box(
                "Gearbox",
                "gearbox",
                "Truck gearbox, constant mesh",
                (
                    Change(1420, "Skerry Mono 30", None, 30, 8500),
                    Change(690, "Skerry Mono 30", 8390, 40, 8500, seen("cap", "dark brown", PASTE), "gear-clash steel"),
                ),
            ),
            Box(
                "Transfer case", "transfer case", "Truck transfer case, gear", _steady("Corrie 80W-90", 3600, 1250, 880)
            ),
            Box("Middle axle", "middle axle", "Truck axle, double reduction", _steady("Corrie 80W-90", 6200, 1190)),
            Box(
                "Rear axle",
                "rear axle",
                "Truck axle, double reduction",
                (
                    Change(1190, "Corrie 80W-90", None, 30, 6200),
                    Change(
                        12,
                        "Corrie 80W-90",
                        6010,
                        45,
                        6200,
                        seen("overflowing", "black", PASTE, ("chip", "steel", 2, 3.5), ("glitter", "steel", 50, 0.2)),
                        "a tooth corner",
                    ),
                ),
            ),
        ),
        0.45,
        "non-synchronised, hauls from the north wood",
    ),
    Machine(
        "Depot 4x4",
        "SKR 204",
        "4x4",
        "four-wheel",
        "km",
        91_870,
        31,
        (
            Box("Front axle", "front axle", "Light 4x4 front axle", _steady("Corrie 80W-90", 1500, 1300, 610)),
            Box(
                "Gearbox",
                "gearbox",
                "Five-speed gearbox, brass rings",
                (
                    Change(
                        1440,
                        "Corrie 80W-90",
                        None,
                        20,
                        1900,
                        None,
                        "wrong oil: a GL-5 went in, found at the next change",
                    ),
                    Change(
                        1330,
                        "Tarn 75W-80",
                        1880,
                        35,
                        1850,
                        seen("cap", "brown", PASTE, ("glitter", "yellow", 30, 0.2)),
                        "correction: GL-5 out, right oil in",
                    ),
                    Change(930, "Tarn 75W-80", 1800, 38, 1850, seen("film", "brown", PASTE)),
                    Change(
                        500,
                        "Tarn 75W-80",
                        1805,
                        38,
                        1850,
                        seen("cap", "dark brown", PASTE, ("glitter", "yellow", 4, 0.2)),
                    ),
                ),
            ),
            Box("Transfer case", "transfer case", "Part-time transfer case, gear", _steady("Tarn 75W-90", 1300, 1425)),
            Box(
                "Rear axle",
                "rear axle",
                "Light 4x4 rear axle, limited slip",
                _steady("Corrie LS 80W-90", 2000, 1440, 985, loss=0.03),
            ),
        ),
        0.35,
    ),
    Machine(
        "Warden 4x4",
        "SKR 219",
        "4x4",
        "four-wheel",
        "km",
        64_220,
        28,
        (
            Box("Front axle", "front axle", "Light 4x4 front axle", _steady("Corrie 80W-90", 1500, 800)),
            Box(
                "Automatic",
                "gearbox",
                "Six-speed automatic, cooler outside",
                (Change(1100, "Burn ATF", None, 20, 4200, None, "one drain and refill"),),
            ),
            Box(
                "Transfer case",
                "transfer case",
                "Clutch transfer case",
                (Change(980, "Moss coupling fluid", None, 20, 650, None, "wear fault stored before, cleared"),),
            ),
            Box("Rear axle", "rear axle", "Light 4x4 rear axle, limited slip", _steady("Corrie LS 80W-90", 2000, 800)),
        ),
        0.1,
    ),
    Machine(
        "Relief van",
        "SKR 118",
        "van",
        "front-wheel",
        "km",
        121_400,
        52,
        (
            Box(
                "Gearbox",
                "transaxle",
                "Van gearbox, two capacities",
                (
                    Change(1380, "Tarn 75W-80", None, 20, 2700),
                    Change(
                        650,
                        "Tarn 75W-80",
                        2560,
                        40,
                        2300,
                        seen("film", "brown", PASTE),
                        "capacity lowered by bulletin: hard shifting when cold",
                    ),
                ),
            ),
        ),
    ),
    Machine(
        "Ridge motorcycle",
        "SKR 12",
        "motorcycle",
        "shaft motorcycle",
        "km",
        38_640,
        14,
        (
            Box("Gearbox", "gearbox", "Motorcycle gearbox", _steady("Corrie 80W-90", 800, 1200, 700)),
            Box(
                "Bevel drive",
                "bevel drive",
                "Motorcycle bevel drive",
                (
                    Change(1200, "Corrie 85W-140", None, 20, 180),
                    Change(690, "Corrie 85W-140", 176, 30, 180, seen("film", "darker", PASTE)),
                ),
            ),
        ),
        seasonal=True,
    ),
    Machine(
        "Launch Petrel",
        "",
        "boat",
        "boat",
        "h",
        1412,
        0.45,
        (
            Box(
                "Marine gearbox",
                "marine gearbox",
                "Marine gearbox, one to two",
                (
                    Change(1075, "Skerry Mono 30", None, 20, 1050),
                    Change(710, "Skerry Mono 30", 980, 30, 1000, seen(None, "darker", PASTE)),
                    Change(352, "Skerry Mono 30", 1010, 30, 1040, seen(None, "brown", PASTE)),
                ),
            ),
        ),
        note="linked with the engine oil",
        seasonal=True,
    ),
    Machine(
        "Rescue sled",
        "",
        "snow machine",
        "track machine",
        "km",
        8_420,
        6,
        (
            Box(
                "Chain case",
                "chain case",
                "Snow machine chain case",
                (Change(385, "Floe chain oil", None, 20, 250, None, "stretch within limits"),),
            ),
        ),
        seasonal=True,
    ),
    Machine(
        "Post bicycle 2",
        "",
        "bicycle",
        "bicycle",
        "km",
        9_240,
        9,
        (
            Box(
                "Hub gear",
                "hub gear",
                "Eight-speed hub gear",
                (Change(430, "Post hub oil", 22, 20, 25), Change(160, "Post hub oil", 24, 20, 25)),
            ),
        ),
    ),
    Machine(
        "Hill-climb coupé",
        "SKR 7",
        "car",
        "rear-wheel",
        "km",
        38_020,
        11,
        (
            Box("Supercharger", "supercharger", "Twin-screw supercharger", (Change(410, "Wisp ester", 135, 20, 140),)),
            Box("Gearbox", "gearbox", "Close-ratio gearbox", _steady("Tarn 75W-90", 2100, 1000, 420)),
            Box("Rear axle", "rear axle", "Coupé rear axle, limited slip"),
        ),
        note="nine track days a year; the rear axle came with no papers",
        seasonal=True,
    ),
    Machine(
        "Nurse's hatchback",
        "SKR 330",
        "car",
        "front-wheel",
        "km",
        21_900,
        38,
        (
            Box(
                "Gearbox",
                "transaxle",
                "Hatchback gearbox",
                (Change(575, "Tarn 75W-80", None, 20, 1900, None, "as delivered", factory_fill=True),),
            ),
            Box(
                "Front differential",
                "front axle",
                "Electronic front differential",
                (Change(400, "Moss coupling fluid", None, 20, 550, None, "as delivered", factory_fill=True),),
            ),
        ),
        warranty_days=190,
    ),
    Machine(
        "Harbour bus",
        "SKR 70",
        "bus",
        "rear-engine",
        "km",
        61_400,
        19,
        (
            Box(
                "Transaxle",
                "transaxle",
                "Bus transaxle, magnesium",
                (
                    Change(1350, "Tarn 75W-90", None, 20, 3500),
                    Change(
                        690, "Tarn 75W-90", 3210, 40, 3500, seen("cap", "brown", PASTE), "weeps at the output flange"
                    ),
                ),
            ),
        ),
        note="fifty years old",
    ),
)
