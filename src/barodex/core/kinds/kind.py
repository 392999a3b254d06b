"""The kinds of compartment: all that a kind says of itself, whatever its sheet, in one table. A new kind is one row of it.

What belongs here is true of every compartment of a kind, or usual for it where its sheet is silent; what one sheet states stands in
:mod:`barodex.core.sheet`. All figures are common practice, and shown as such.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say


@dataclass(frozen=True)
class PlugDefault:
    """A plug that a kind usually has: its role, what it is called, its seal, whether a magnet is usual in it."""

    role: str
    label: str
    seal: str = "crush washer"
    magnet: bool = False


FILL = PlugDefault("fill", "fill plug")
DRAIN = PlugDefault("drain", "drain plug", magnet=True)
STICK = PlugDefault("dipstick", "dipstick", "O-ring")


@dataclass(frozen=True)
class Kind:
    """A kind of compartment.

    ``distance_km``, ``hours``, ``months`` (None: no such limit) with the factor of severe duties and that of a track day: the interval where
    a sheet is silent. ``work_hours``: of a change, in the bay. ``usual_fill_ml``: from small to large vehicles. ``clutches``: friction
    linings run in its oil. ``keeps_oil``: one drain leaves much of it inside. ``filtered``: it may have a filter. ``flushed``: it may be
    flushed. ``own_level``: its case is put level, not the vehicle. ``chain``: one runs in it and is looked at. ``straight_cut``: old
    ones have gears without synchronisers. ``shifts``: somebody shifts it. ``differential``: it may have a limited slip to be worked in. ``cold``: it is worked on cold; ``near_brake``: what drips may reach
    a tyre or a brake. ``place``: in the driveline, usually; ``called``: what else people call it, in several languages, in small letters
    without accents. The rest is what its sheet
    begins with: family of the oil, how it is filled and drained, whether it is driven warm first, its plugs.
    """

    name: str
    distance_km: float | None
    months: int
    severe: float
    work_hours: float
    usual_fill_ml: tuple[float, float]
    hours: float | None = None
    track: float | None = None
    clutches: bool = False
    keeps_oil: bool = False
    filtered: bool = False
    flushed: bool = False
    own_level: bool = False
    chain: bool = False
    straight_cut: bool = False
    shifts: bool = False
    differential: bool = False
    cold: bool = False
    near_brake: bool = False
    place: str = "gearbox"
    called: tuple[str, ...] = ()
    family: str = "gear"
    fill_method: str = "to the lip"
    drain_method: str = "plug"
    warm_up: bool = True
    plugs: tuple[PlugDefault, ...] = (FILL, DRAIN)

    @property
    def factors(self) -> dict[str, float]:
        """The factor by which each duty but the road shortens its interval."""
        return {"off_road": self.severe, "towing": self.severe, "track": self.track or self.severe, "load": self.severe}


KIND_TABLE = (
    Kind(
        "manual gearbox",
        80_000,
        60,
        0.6,
        0.8,
        (500, 14_000),
        straight_cut=True,
        shifts=True,
        called=("gearbox", "getriebe", "schaltgetriebe", "transmission", "boite", "caja", "cambio", "versnellingsbak"),
    ),
    Kind("transaxle", 80_000, 60, 0.6, 0.9, (1_000, 8_000), filtered=True, shifts=True, place="transaxle", called=("transaxle",)),
    Kind(
        "automatic",
        100_000,
        72,
        0.5,
        2.0,
        (2_500, 16_000),
        shifts=True,
        clutches=True,
        keeps_oil=True,
        filtered=True,
        family="atf",
        fill_method="overflow",
        warm_up=False,
        plugs=(FILL, DRAIN, PlugDefault("level", "level screw", "O-ring")),
        called=("automatik", "automatikgetriebe", "auto box", "autobox", "auto gearbox", "automatic gearbox", "boite auto"),
    ),
    Kind(
        "dual-clutch",
        60_000,
        48,
        0.6,
        2.0,
        (1_500, 9_000),
        shifts=True,
        clutches=True,
        keeps_oil=True,
        filtered=True,
        family="dual-clutch fluid",
        fill_method="overflow",
        warm_up=False,
        plugs=(FILL, DRAIN, PlugDefault("level", "level screw", "O-ring")),
        called=("dual clutch", "dct", "doppelkupplung", "doppelkupplungsgetriebe"),
    ),
    Kind(
        "axle",
        80_000,
        60,
        0.6,
        0.7,
        (400, 18_000),
        differential=True,
        place="rear axle",
        called=("axle", "achse", "hinterachse", "vorderachse", "mittelachse", "achterachse", "diff", "differential", "pont", "eje"),
    ),
    Kind(
        "electronic differential",
        16_000,
        36,
        0.6,
        1.0,
        (300, 1_200),
        track=0.2,
        clutches=True,
        filtered=True,
        family="clutch fluid",
        fill_method="measured",
        warm_up=False,
        place="rear axle",
        called=("electronic diff", "e diff", "coupling", "electronic coupling"),
    ),
    Kind(
        "transfer case",
        80_000,
        60,
        0.6,
        0.7,
        (600, 7_000),
        shifts=True,
        place="transfer case",
        called=("transfer", "verteiler", "verteilergetriebe", "boite de transfert", "reductora"),
    ),
    Kind(
        "clutch transfer case",
        50_000,
        48,
        0.6,
        0.9,
        (400, 1_500),
        clutches=True,
        family="clutch fluid",
        fill_method="measured",
        place="transfer case",
        called=("clutch transfer", "clutch type transfer case"),
    ),
    Kind(
        "bevel drive",
        20_000,
        24,
        0.7,
        0.4,
        (100, 400),
        near_brake=True,
        place="bevel drive",
        called=("bevel", "final drive", "kardan", "winkelgetriebe", "shaft drive"),
    ),
    Kind(
        "supercharger",
        100_000,
        72,
        0.7,
        0.7,
        (80, 300),
        own_level=True,
        cold=True,
        family="ester turbine",
        fill_method="measured",
        drain_method="suction",
        warm_up=False,
        plugs=(PlugDefault("fill", "filler screw", "PTFE tape"),),
        place="supercharger",
        called=("blower", "kompressor", "compresseur"),
    ),
    Kind(
        "hub gear",
        5_000,
        12,
        1.0,
        0.6,
        (8, 60),
        shifts=True,
        flushed=True,
        cold=True,
        near_brake=True,
        family="hub",
        fill_method="syringe",
        drain_method="suction",
        warm_up=False,
        plugs=(PlugDefault("fill", "port screw", "thread-lock"),),
        place="hub gear",
        called=("hub", "nabe", "moyeu"),
    ),
    Kind(
        "chain case",
        None,
        12,
        0.7,
        0.8,
        (150, 500),
        flushed=True,
        chain=True,
        family="chain case",
        fill_method="dipstick",
        drain_method="cover",
        warm_up=False,
        plugs=(STICK, PlugDefault("cover", "case cover", "gasket")),
        place="chain case",
        called=("chaincase", "kettenkasten", "carter de chaine"),
    ),
    Kind(
        "marine gearbox",
        None,
        12,
        1.0,
        0.7,
        (400, 12_000),
        shifts=True,
        hours=200,
        clutches=True,
        family="atf",
        fill_method="dipstick",
        drain_method="suction",
        plugs=(STICK,),
        place="marine gearbox",
        called=("marine", "wendegetriebe", "boat gearbox", "reversing gear"),
    ),
)
_BY_NAME = {kind.name: kind for kind in KIND_TABLE}
COMPARTMENT_KINDS = tuple(_BY_NAME)


def kind_of(name: str) -> Kind:
    """Give a kind by its name.

    Parameters
    ----------
    name : one of :data:`COMPARTMENT_KINDS`

    Returns
    -------
    Kind

    Raises
    ------
    Inconsistent : no such kind

    References
    ----------
    The table :data:`KIND_TABLE`, common practice.
    """
    found = _BY_NAME.get(name)
    if found is None:
        raise Inconsistent(
            say("“{name}” is not a kind of compartment.", name=name), field="kind", value=name, allowed=", ".join(COMPARTMENT_KINDS)
        )
    return found


def clutches_inside(kind: str, wet_clutch: bool = False, limited_slip: bool | None = None) -> bool:
    """Say whether friction linings run in the oil of a compartment.

    Parameters
    ----------
    kind : the kind of compartment
    wet_clutch : what its sheet says of wet clutches
    limited_slip : whether a clutch-type limited slip is inside; None for unknown

    Returns
    -------
    bool

    Raises
    ------
    Inconsistent : no such kind

    References
    ----------
    Common practice: automatics, dual-clutch boxes, clutch-type cases and couplings and marine gearboxes shift or hold by clutches.
    """
    return kind_of(kind).clutches or wet_clutch or bool(limited_slip)


def fluid_rules(kind: str, wet_clutch: bool = False, limited_slip: bool | None = None, approvals: Collection[str] = ()) -> bool:
    """Say whether an oil must claim the fluids of the sheet: clutches run in it, or a limited slip whose sheet lists a fluid.

    Parameters
    ----------
    kind, wet_clutch, limited_slip : as :func:`clutches_inside`
    approvals : the fluids and approvals that the sheet lists

    Returns
    -------
    bool

    Raises
    ------
    Inconsistent : no such kind

    References
    ----------
    Common practice: an axle oil with friction modifier is right for a limited slip unless its maker names a fluid.
    """
    return clutches_inside(kind, wet_clutch, limited_slip if approvals else None)
