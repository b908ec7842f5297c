"""What a card or a table may edit: each input carries the command it gives, with one place left empty."""

from garnetfin.core.errors import InputError
from garnetfin.core.units import System, parse
from garnetfin.project.edits import Command
from garnetfin.project.edits.book import SetAssumption, SetBookChoice, SetUseFigure
from garnetfin.project.edits.ceilings import RemoveCeilingParts, SetCeilingZone, SetObstacle
from garnetfin.project.edits.duct_runs import RemoveDucts, SetFlexible, SetShape, SetTerminal
from garnetfin.project.edits.duct_values import SetDuctChoice, SetDuctValue, SetFitting
from garnetfin.project.edits.equipment import SetEquipment
from garnetfin.project.edits.fabric import (
    AddGlazing,
    ApplyFabricSet,
    RemoveFabricSet,
    SetBuildUp,
    SetFabricSet,
    SetGlazingValue,
    SetLayer,
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
from garnetfin.project.edits.inline import MoveInline, PutInline, RemoveInline, SetInline, SetInlineChoice
from garnetfin.project.edits.marks import RemoveMark, SetBlock
from garnetfin.project.edits.openings import RateWalls, SetSlab, SetWall
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
    SetFanValue,
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
from garnetfin.project.values import Rule
from garnetfin.ui.view_models.card import InputVM
from garnetfin.ui.view_models.edit import Edit, as_typed, is_on, is_yes, or_all, pinned, span_of_months, whole, worded

Ids = tuple[str, ...]
FREE = Rule()
NIGHT = ("night_cooling_c", "night_heating_c")
DERIVED = ("supply_c", "warm_limit_k", "least_share", "humidity_high")  # of air systems


def typed(vm: InputVM, text: str, units: System) -> Command:
    """The command for what was typed into a field. Raises InputError saying what is accepted."""
    if not vm.quantity:
        return vm.edit.filled(text)
    if not text.strip():
        if vm.origin == "plain":
            raise InputError("A figure is needed here", remedy="Type one")
        return vm.edit.filled(None)
    return vm.edit.filled(parse(text, vm.quantity, units))


# -- rooms ----------------------------------------------------------------------------------------------------------
def room_value(room_ids: Ids, field: str) -> Edit:
    why = {"supply_m3s": ("flow", room_ids[0]), "return_m3s": ("air balance", room_ids[0])}.get(
        field, ("input", room_ids[0], field)
    )
    return Edit(SetRoomValue(room_ids, field, FREE), "value", pinned, why=why)


def room_use(room_ids: Ids) -> Edit:
    return Edit(SetRoomUse(room_ids, ""), "use_id")


def room_text(room_id: str, field: str) -> Edit:
    return Edit(SetRoomText(room_id, field, ""), "text")


def room_choice(room_ids: Ids, field: str) -> Edit:
    return Edit(SetRoomChoice(room_ids, field, ""), "value")


def room_served(room_ids: Ids) -> Edit:
    return Edit(SetServed(room_ids, ""), "system_id")


def unpin_rooms(room_ids: Ids) -> Edit:
    return Edit(UnpinRoom(room_ids))


def room_zone(room_ids: Ids) -> Edit:
    return Edit(SetZone(room_ids, ""), "zone_id")


def room_level(room_ids: Ids) -> Edit:
    return Edit(SetRoomLevel(room_ids, ""), "level_id")


def ceiling(room_ids: Ids) -> Edit:
    return Edit(SetCeiling(room_ids, 0.0), "height_m", why=("given", "ceiling", room_ids, "ceiling_m"))


def void_above(room_ids: Ids) -> Edit:
    return Edit(SetVoid(room_ids, 0.0), "height_m", why=("given", "void", room_ids, "plenum_m"))


def operation(owner: str, field: str) -> Edit:
    return Edit(SetOperation(owner, field, None), "value", pinned if field in NIGHT else as_typed)


# -- envelope -------------------------------------------------------------------------------------------------------
def wall(wall_ids: Ids, field: str) -> Edit:
    return Edit(SetWall(wall_ids, field, 0.0), "value")


def wall_minutes(wall_ids: Ids) -> Edit:
    return Edit(SetWall(wall_ids, "fire_min", 0), "value", whole)


def wall_smoke(wall_ids: Ids) -> Edit:
    return Edit(SetWall(wall_ids, "smoke", False), "value", is_yes)


def walls_around(room_ids: Ids) -> Edit:
    return Edit(RateWalls(room_ids, 0), "fire_min", whole)


def slab(slab_id: str, field: str) -> Edit:
    return Edit(SetSlab(slab_id, field, 0.0), "value")


def opening(wall_id: str, opening_id: str, field: str) -> Edit:
    return Edit(
        SetOpening(wall_id, opening_id, field, 0.0), "value", why=("given", "opening", (wall_id, opening_id), field)
    )


def opening_end(wall_id: str, opening_id: str, field: str) -> Edit:
    return Edit(SetOpening(wall_id, opening_id, field, Rule()), "value", pinned)


def remove_opening(wall_id: str, opening_id: str) -> Edit:
    return Edit(RemoveOpening(wall_id, opening_id))


def glazing_of(opening: tuple[str, str]) -> Edit:
    return Edit(SetGlazing((opening,), ""), "glazing_id")


def glazing_value(glazing_id: str, field: str) -> Edit:
    return Edit(SetGlazingValue(glazing_id, field, 0.0), "value", why=("given", "glazing value", (glazing_id,), field))


def add_glazing() -> Edit:
    return Edit(AddGlazing(""), "glass_id")


def shade(glazing_id: str, field: str) -> Edit:
    return Edit(SetShade(glazing_id, field, 0.0), "value")


def build_up(build_up_id: str, field: str) -> Edit:
    return Edit(SetBuildUp(build_up_id, field, 0.0), "value")


def taken_up_inside(build_up_id: str) -> Edit:
    return Edit(SetBuildUp(build_up_id, "inside_absorptance", FREE), "value", pinned)


def layer(build_up_id: str, index: int, field: str) -> Edit:
    return Edit(SetLayer(build_up_id, index, field, 0.0), "value")


def fabric_set(set_id: str, field: str) -> Edit:
    return Edit(SetFabricSet(set_id, field, ""), "value")


def apply_set(set_id: str) -> Edit:
    return Edit(ApplyFabricSet(set_id), "where", or_all)


def remove_set(set_id: str) -> Edit:
    return Edit(RemoveFabricSet(set_id))


def block(mark_id: str) -> Edit:
    return Edit(SetBlock(mark_id, 0.0), "height_m")


def remove_mark(mark_id: str) -> Edit:
    return Edit(RemoveMark(mark_id))


# -- levels, zones, underlays ---------------------------------------------------------------------------------------
def level(level_id: str, field: str) -> Edit:
    return Edit(SetLevel(level_id, field, 0.0), "value", why=("given", "level", (level_id,), field))


def level_floor(level_id: str, field: str) -> Edit:
    return Edit(SetLevel(level_id, field, FREE), "value", pinned)


def remove_level(level_id: str) -> Edit:
    return Edit(RemoveLevel(level_id))


def zone_value(zone_id: str, field: str) -> Edit:
    return Edit(SetZoneValue(zone_id, field, FREE), "value", pinned)


def zone_name(zone_id: str) -> Edit:
    return Edit(RenameZone(zone_id, ""), "name")


def remove_zone(zone_id: str) -> Edit:
    return Edit(RemoveZone(zone_id))


def area_basis() -> Edit:
    return Edit(SetAreaBasis(""), "basis")


def underlay(underlay_id: str, field: str) -> Edit:
    return Edit(SetUnderlay(underlay_id, field, 0.0), "value", is_yes if field == "visible" else as_typed)


def underlay_layer(underlay_id: str, layer: str) -> Edit:
    return Edit(ShowLayer(underlay_id, layer, True), "on", is_on)


def remove_underlay(underlay_id: str) -> Edit:
    return Edit(RemoveUnderlay(underlay_id))


# -- place and weather ----------------------------------------------------------------------------------------------
def place() -> Edit:
    return Edit(SetPlace(""), "place_id")


def site_field(field: str) -> Edit:
    return Edit(
        SetSite(field, None),
        "value",
        is_yes if field == "summer_time" else as_typed,
        why=("given", "site field", (), field),
    )


def site_value(field: str) -> Edit:
    return Edit(SetSiteValue(field, FREE), "value", pinned, why=("site", field))


def month_value(month: int, field: str) -> Edit:
    return Edit(SetMonth(month, field, FREE), "value", pinned, why=("month", month, field))


def no_weather() -> Edit:
    return Edit(SetWeather(None))


# -- office book ----------------------------------------------------------------------------------------------------
def assumption(field: str) -> Edit:
    return Edit(SetAssumption(field, FREE), "value", pinned, why=("book", field))


def book_choice(field: str) -> Edit:
    return Edit(SetBookChoice(field, ""), "value")


def use_figure(use_id: str, field: str) -> Edit:
    return Edit(SetUseFigure(use_id, field, None), "value", why=("given", "use figure", (use_id,), field))


# -- air systems ----------------------------------------------------------------------------------------------------
def system_value(system_id: str, field: str) -> Edit:
    if field == "outdoor_m3s":
        why: tuple = ("system outdoor", system_id)
    else:
        why = ("system", system_id, field) if field in DERIVED else ("given", "system", (system_id,), field)
    return Edit(SetSystemValue(system_id, field, FREE), "value", pinned, why=why)


def system_choice(system_id: str, field: str) -> Edit:
    return Edit(SetSystemChoice(system_id, field, ""), "value")


def pattern(system_id: str) -> Edit:
    return Edit(SetPattern(system_id, ""), "pattern")


def months(system_id: str, field: str) -> Edit:
    return Edit(SetMonths(system_id, field, ()), "months", span_of_months)


def part_value(system_id: str, part_id: str, field: str) -> Edit:
    figure = field not in ("choice", "name")
    return Edit(
        SetPart(system_id, part_id, field, FREE),
        "value",
        pinned if figure else as_typed,
        why=("part figure", system_id, part_id, field) if figure else (),
    )


def remove_part(system_id: str, part_id: str) -> Edit:
    return Edit(RemovePart(system_id, part_id))


def transfer_flow(from_room: str, to_room: str) -> Edit:
    return Edit(SetTransfer(from_room, to_room), "flow_m3s", pinned)


def add_transfer(to_room: str) -> Edit:
    return Edit(SetTransfer("", to_room), "from_room")


def transfer_source(transfer_id: str) -> Edit:
    return Edit(MoveTransfer(transfer_id, ""), "from_room")


def fan(system_id: str, way: str = "supply") -> Edit:
    return Edit(ChooseFan(system_id, "", way), "fan_id")


def fan_value(system_id: str, way: str, field: str) -> Edit:
    why = ("given", "fan value", (f"{system_id}/{way}",), field)
    return Edit(SetFanValue(system_id, field, FREE, way), "value", pinned, why=why)


def fan_arrangement(system_id: str, way: str = "supply") -> Edit:
    return Edit(SetFans(system_id, way=way), "arrangement")


def fan_count(system_id: str, way: str = "supply") -> Edit:
    return Edit(SetFans(system_id, way=way), "count", whole)


def list_row(row_id: str, field: str) -> Edit:
    return Edit(SetListRow(row_id, field, 0.0), "value", empty=SetListRow(row_id, field, 0.0))


def list_source(row_id: str, at: int) -> Edit:
    return Edit(SetListSource(row_id, at, ""), "source")


def list_share(row_id: str, at: int, source: str) -> Edit:
    return Edit(SetListSource(row_id, at, source), "share")


def remove_row(row_id: str) -> Edit:
    return Edit(RemoveListRow((row_id,)))


# -- ducts and terminals --------------------------------------------------------------------------------------------
def duct_shape(segment_ids: Ids) -> Edit:
    return Edit(SetShape(segment_ids, ""), "shape")


def duct_value(segment_ids: Ids, field: str) -> Edit:
    return Edit(
        SetDuctValue(segment_ids, field, FREE), "value", pinned, why=("given", "duct value", segment_ids, field)
    )


def duct_choice(segment_ids: Ids, field: str) -> Edit:
    return Edit(SetDuctChoice(segment_ids, field, ""), "choice")


def fitting(segment_ids: Ids, place: str) -> Edit:
    return Edit(SetFitting(segment_ids, place), "fitting")


def fitting_figure(segment_ids: Ids, place: str, figure: str) -> Edit:
    return Edit(
        SetFitting(segment_ids, place), figure, pinned, why=("given", "fitting", segment_ids, f"{place} {figure}")
    )


def flexible(segment_id: str) -> Edit:
    return Edit(SetFlexible(segment_id, 0.0), "length_m")


def terminal_kind(terminal_ids: Ids) -> Edit:
    return Edit(SetTerminalKind(terminal_ids, ""), "kind")


def terminal_share(terminal_id: str) -> Edit:
    return Edit(SetTerminal(terminal_id), "share", pinned, why=("given", "share", (terminal_id,), "share"))


def terminal_model(terminal_id: str) -> Edit:
    return Edit(SetTerminal(terminal_id), "model")


def put_inline(segment_ids: Ids) -> Edit:
    return Edit(PutInline(segment_ids, ""), "kind")


def inline_choice(part_ids: Ids, field: str) -> Edit:
    """Kind, model or tag of parts in ducts."""
    return Edit(SetInlineChoice(part_ids, field, ""), "choice", worded)


def inline_minutes(part_ids: Ids) -> Edit:
    return Edit(SetInlineChoice(part_ids, "fire_min", 0), "choice", whole)


def inline_smoke(part_ids: Ids) -> Edit:
    return Edit(SetInlineChoice(part_ids, "smoke", False), "choice", is_yes)


def inline_value(part_ids: Ids, field: str, why: str) -> Edit:
    return Edit(SetInline(part_ids, field, FREE), "value", pinned, why=("inline", part_ids[0], why))


def inline_place(part_id: str, whole_m: float, from_a: bool) -> Edit:
    """Typed as a length from the end of the duct at the unit."""

    def share(near_m: float) -> float:
        at = min(max(near_m / max(whole_m, 1e-9), 0.0), 1.0)
        return at if from_a else 1 - at

    return Edit(MoveInline(part_id, 0.5), "at", share, why=("inline", part_id, "near_m"))


def remove_inline(part_ids: Ids) -> Edit:
    return Edit(RemoveInline(part_ids))


def remove_ducts(segment_ids: Ids) -> Edit:
    return Edit(RemoveDucts(segment_ids))


def remove_terminals(terminal_ids: Ids) -> Edit:
    return Edit(RemoveDucts((), terminal_ids))


def ceiling_zone(zone_id: str, field: str) -> Edit:
    return Edit(SetCeilingZone(zone_id, field, 0.0), "value", why=("given", "ceiling zone", (zone_id,), field))


def obstacle(obstacle_id: str, field: str) -> Edit:
    return Edit(SetObstacle(obstacle_id, field, 0.0), "value", why=("given", "obstacle", (obstacle_id,), field))


def remove_ceiling_zones(zone_ids: Ids) -> Edit:
    return Edit(RemoveCeilingParts(zone_ids))


def remove_obstacles(obstacle_ids: Ids) -> Edit:
    return Edit(RemoveCeilingParts((), obstacle_ids))


# -- papers ---------------------------------------------------------------------------------------------------------
def papers(field: str) -> Edit:
    return Edit(SetPapers(field, ""), "value")


def sheet(field: str) -> Edit:
    return Edit(SetSheet(field, ""), "value")


def deviation(code: str, kind: str, object_id: str) -> Edit:
    return Edit(AcceptFinding(code, kind, object_id, ""), "reason", empty=ReopenFinding(code, kind, object_id))


# -- equipment --------------------------------------------------------------------------------------------------------
COUNTED = ("count", "rows", "fewest")


def equipment(sheet: str, item_id: str, field: str, quantity: str) -> Edit:
    """What is fixed of one piece; nothing typed lets the rule choose."""
    if field in COUNTED:
        return Edit(SetEquipment(sheet, item_id, field, 0), "value", whole)
    return Edit(SetEquipment(sheet, item_id, field, FREE if quantity else ""), "value", pinned if quantity else worded)
