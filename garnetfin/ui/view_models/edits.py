"""From a field on screen and what was typed to a command."""

from garnetfin.core.errors import InputError
from garnetfin.core.units import System, parse
from garnetfin.project.edits import Command
from garnetfin.project.edits.book import FreeUseProfile, SetAssumption, SetBookChoice, SetUseFigure
from garnetfin.project.edits.ceilings import RemoveCeilingParts, SetCeilingZone, SetObstacle
from garnetfin.project.edits.duct_values import SetDuctChoice, SetDuctValue, SetFitting
from garnetfin.project.edits.ducts import RemoveDucts, SetFlexible, SetShape, SetTerminal
from garnetfin.project.edits.fabric import (
    AddGlazing,
    ApplyFabricSet,
    RemoveFabricSet,
    SetBuildUp,
    SetFabricSet,
    SetGlazingValue,
    SetLayer,
    SetLayerMaterial,
    SetShade,
)
from garnetfin.project.edits.groups import (
    RemoveLevel,
    RemoveZone,
    RenameZone,
    SetAreaBasis,
    SetLevel,
    SetRoomLevel,
    SetZone,
    SetZoneValue,
)
from garnetfin.project.edits.marks import RemoveBlock, SetBlock
from garnetfin.project.edits.openings import SetSlab, SetWall
from garnetfin.project.edits.papers import AcceptFinding, ReopenFinding, SetPapers, SetSheet
from garnetfin.project.edits.rooms import (
    RemoveOpening,
    SetCeiling,
    SetGlazing,
    SetOpening,
    SetRoomChoice,
    SetRoomText,
    SetRoomUse,
    SetRoomValue,
    SetServed,
    SetVoid,
    UnpinRoom,
)
from garnetfin.project.edits.site import SetMonth, SetPlace, SetSite, SetSiteValue, SetWeather
from garnetfin.project.edits.state_list import RemoveListRow, SetListRow, SetListSource
from garnetfin.project.edits.systems import (
    ChooseFan,
    MoveTransfer,
    RemovePart,
    SetFans,
    SetMonths,
    SetOperation,
    SetPart,
    SetPattern,
    SetSystemChoice,
    SetSystemValue,
    SetTransfer,
)
from garnetfin.project.edits.terminals import SetTerminalKind
from garnetfin.project.edits.underlays import RemoveUnderlay, SetUnderlay, ShowLayer
from garnetfin.project.values import Pinned, Rule, Value
from garnetfin.ui.view_models.card import Field, InputVM

# Months that are offered as one choice.
MONTH_SPANS = {"all": tuple(range(1, 13)), "summer": (5, 6, 7, 8, 9), "winter": (1, 2, 3, 4, 10, 11, 12), "none": ()}


def typed(vm: InputVM, text: str, units: System) -> Command:
    """The command for what was typed into a field. Raises InputError saying what is accepted."""
    if not vm.quantity:
        return command_for(vm.field, text)
    if not text.strip():
        if vm.origin == "plain":
            raise InputError("A figure is needed here", remedy="Type one")
        return command_for(vm.field, None)
    return command_for(vm.field, parse(text, vm.quantity, units))


def command_for(field: Field, entered: float | str | None) -> Command:
    """`entered`: a figure in SI, a text or chosen id; None sets the value free for the rule."""
    kind, ids, name = field
    value: Value = Rule() if entered is None or isinstance(entered, str) else Pinned(value=entered)
    match kind:
        case "room":
            return SetRoomValue(ids, name, value)
        case "room use":
            return SetRoomUse(ids, entered)
        case "room text":
            return SetRoomText(ids[0], name, entered)
        case "room choice":
            return SetRoomChoice(ids, name, entered)
        case "operation":
            night = name in ("night_cooling_c", "night_heating_c")
            return SetOperation(ids[0], name, value if night else entered)
        case "book":
            return SetAssumption(name, value)
        case "use figure":
            return SetUseFigure(ids[0], name, entered)
        case "free profile":
            return FreeUseProfile(ids[0])
        case "layer":
            return SetLayer(ids[0], ids[1], name, entered)
        case "layer material":
            return SetLayerMaterial(ids[0], ids[1], entered)
        case "build-up":
            return SetBuildUp(ids[0], name, entered)
        case "glazing value":
            return SetGlazingValue(ids[0], name, entered)
        case "shade":
            return SetShade(ids[0], name, entered)
        case "fabric set":
            return SetFabricSet(ids[0], name, entered)
        case "apply set":
            return ApplyFabricSet(ids[0], entered or "all")
        case "add glazing":
            return AddGlazing(entered)
        case "remove set":
            return RemoveFabricSet(ids[0])
        case "place":
            return SetPlace(entered)
        case "site field":
            return SetSite(name, entered == "yes" if name == "summer_time" else entered)
        case "no weather":
            return SetWeather(None)
        case "block":
            return SetBlock(ids[0], entered)
        case "remove block":
            return RemoveBlock(ids[0])
        case "room served":
            return SetServed(ids, entered)
        case "room unpin":
            return UnpinRoom(ids)
        case "ceiling":
            return SetCeiling(ids, entered)
        case "void":
            return SetVoid(ids, entered)
        case "opening":
            return SetOpening(ids[0], ids[1], name, entered)
        case "remove opening":
            return RemoveOpening(*ids)
        case "remove ducts":
            return RemoveDucts(ids if name == "segment" else (), ids if name == "terminal" else ())
        case "room zone":
            return SetZone(ids, entered)
        case "room level":
            return SetRoomLevel(ids, entered)
        case "zone":
            return SetZoneValue(ids[0], name, value)
        case "zone name":
            return RenameZone(ids[0], entered)
        case "remove zone":
            return RemoveZone(ids[0])
        case "level":
            return SetLevel(ids[0], name, entered)
        case "level floor":
            return SetLevel(ids[0], name, value)
        case "remove level":
            return RemoveLevel(ids[0])
        case "wall":
            return SetWall(ids, name, entered)
        case "slab":
            return SetSlab(ids[0], name, entered)
        case "underlay":
            return SetUnderlay(ids[0], name, entered == "yes" if name == "visible" else entered)
        case "underlay layer":
            return ShowLayer(ids[0], name, entered == "on")
        case "remove underlay":
            return RemoveUnderlay(ids[0])
        case "basis":
            return SetAreaBasis(entered)
        case "glazing":
            return SetGlazing(ids, entered)
        case "site":
            return SetSiteValue(name, value)
        case "month":
            return SetMonth(ids[0], name, value)
        case "system":
            return SetSystemValue(ids[0], name, value)
        case "book choice":
            return SetBookChoice(name, entered)
        case "transfer":
            return SetTransfer(*ids, value)
        case "add transfer":
            return SetTransfer(entered, ids[0])
        case "transfer source":
            return MoveTransfer(ids[0], entered)
        case "part":
            return SetPart(*ids, name, entered if name in ("choice", "name") else value)
        case "pattern":
            return SetPattern(ids[0], entered)
        case "system choice":
            return SetSystemChoice(ids[0], name, entered)
        case "months":
            return SetMonths(ids[0], name, MONTH_SPANS[entered])
        case "remove part":
            return RemovePart(*ids)
        case "list row":
            return SetListRow(ids[0], name, entered if entered is not None else 0.0)
        case "list source":
            return SetListSource(ids[0], int(ids[1]), entered)
        case "list share":
            return SetListSource(ids[0], int(ids[1]), ids[2], entered)
        case "remove row":
            return RemoveListRow(ids)
        case "fans":
            return SetFans(ids[0], **({"arrangement": entered} if name == "arrangement" else {"count": round(entered)}))
        case "fan":
            return ChooseFan(ids[0], entered)
        case "shape":
            return SetShape(ids, entered)
        case "duct value":
            return SetDuctValue(ids, name, value)
        case "duct choice":
            return SetDuctChoice(ids, name, entered)
        case "fitting":
            place, _, part = name.partition(" ")
            return SetFitting(ids, place, **({part: value} if part else {"fitting": entered}))
        case "ceiling zone":
            return SetCeilingZone(ids[0], name, entered)
        case "obstacle":
            return SetObstacle(ids[0], name, entered)
        case "remove ceiling":
            return RemoveCeilingParts(ids if name == "ceiling zone" else (), ids if name == "obstacle" else ())
        case "flexible":
            return SetFlexible(ids[0], entered)
        case "terminal kind":
            return SetTerminalKind(ids, entered)
        case "share":
            return SetTerminal(ids[0], share=value)
        case "papers":
            return SetPapers(name, entered)
        case "sheet":
            return SetSheet(name, entered)
        case "deviation":
            return AcceptFinding(*ids, entered) if entered.strip() else ReopenFinding(*ids)
        case "model":
            return SetTerminal(ids[0], model=entered)
    raise InputError(f"There is no edit for “{kind}”")


GIVEN = (
    "ceiling",
    "void",
    "opening",
    "level",
    "glazing value",
    "site field",
    "use figure",
    "system",
    "duct value",
    "share",
    "ceiling zone",
    "obstacle",
    "fitting",
)


def address_of_field(field: tuple, label: str = "", quantity: str = "") -> tuple:
    """The address of the figure behind an input of a card, () for one without.

    With label and quantity also of one that is given and not derived.
    """
    kind, ids, name = field
    match kind:
        case "room":
            return {"supply_m3s": ("flow", ids[0]), "return_m3s": ("air balance", ids[0])}.get(
                name, ("input", ids[0], name)
            )
        case "month":
            return ("month", ids[0], name)
        case "site":
            return ("site", name)
        case "book":
            return ("book", name)
        case "system" if name in ("supply_c", "warm_limit_k", "least_share", "humidity_high"):
            return ("system", ids[0], name)
        case "system" if name == "outdoor_m3s":
            return ("system outdoor", ids[0])
        case "part" if name not in ("choice", "name"):
            return ("part figure", *ids, name)
    return ("given", kind, ids, name, label, quantity) if quantity and kind in GIVEN else ()
