"""Findings of ducts in the building as BCF 3.0: a topic each, with its place, the parts of the IFC file it is about,
and what would mend it.
"""

import io
import uuid
import zipfile
from datetime import UTC, datetime
from math import hypot

from garnetfin.engine.results import Finding, Results
from garnetfin.exchange.ifc_parts import NAMES, ifc_id
from garnetfin.project.inline import inline_part
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.report.document import Order

VERSION = "3.0"
# Findings that are settled between trades: what touches, and what does not fit where it was drawn.
CLASHES = ("height", "duct-height", "crossing", "sleeve")
COORDINATION = (*CLASHES, "outside", "terminal-away", "terminal-height", "fittings-overlap", "not-joined")
TYPES = ("Clash", "Issue")
STATES = ("Open", "Closed")
PRIORITIES = {"bad": "High", "watch": "Normal"}
BACK_M, UP_M = 4.0, 3.0  # how far the eye stands from what it looks at
STAMP = (2024, 1, 1, 0, 0, 0)  # of members: one order gives the same bytes
Point = tuple[float, float, float]


def to_bcf(order: Order, ifc_name: str, now: datetime | None = None) -> bytes:
    """A BCF file beside the IFC file of that name. `now` is the date of its topics (UTC)."""
    results = order.results
    when = (now or datetime.now(UTC)).strftime("%Y-%m-%dT%H:%M:%SZ")
    author = results.project.book.sheet.company or "Garnetfin"
    members: dict[str, bytes] = {
        "bcf.version": _bytes(_root("Version", VersionId=VERSION)),
        "extensions.xml": _extensions(author),
    }
    found = [f for f in results.findings if f.code in COORDINATION]
    for i, finding in enumerate(found):
        told = finding.in_units(order.units)
        topic = _guid(results.project, finding.code, finding.object_id)
        keys, at = _parts(results, finding)
        members[f"{topic}/markup.bcf"] = _markup(told, topic, i, when, author, ifc_name)
        members[f"{topic}/viewpoint.bcfv"] = _viewpoint(_guid(results.project, "view", topic), keys, at)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(zipfile.ZipInfo(name, STAMP), data, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _guid(project: Project, *parts: str) -> str:
    """One thing keeps its id from file to file."""
    return str(uuid.uuid5(NAMES, "/".join(("bcf", project.model_name, *parts))))


def _root(name: str, **attributes: str):
    from lxml import etree

    return etree.Element(name, **attributes)


def _bytes(root) -> bytes:
    from lxml import etree

    return etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True)


def _put(parent, name: str, text: object = "", **attributes: str):
    made = parent.makeelement(name, attributes)
    parent.append(made)
    if text != "":
        made.text = str(text)
    return made


def _extensions(author: str) -> bytes:
    root = _root("Extensions")
    for group, name, values in (
        ("TopicTypes", "TopicType", TYPES),
        ("TopicStatuses", "TopicStatus", STATES),
        ("Priorities", "Priority", tuple(PRIORITIES.values())),
        ("TopicLabels", "TopicLabel", ("Ducts",)),
        ("Users", "User", (author,)),
    ):
        held = _put(root, group)
        for value in values:
            _put(held, name, value)
    return _bytes(root)


def _markup(finding: Finding, topic_id: str, index: int, when: str, author: str, ifc_name: str) -> bytes:
    root = _root("Markup")
    file = _put(_put(_put(root, "Header"), "Files"), "File", IsExternal="true")
    _put(file, "Filename", ifc_name)
    _put(file, "Date", when)
    kind = TYPES[0] if finding.code in CLASHES else TYPES[1]
    topic = _put(root, "Topic", Guid=topic_id, TopicType=kind, TopicStatus=STATES[0])
    _put(topic, "Title", finding.title)
    _put(topic, "Priority", PRIORITIES[finding.severity])
    _put(topic, "Index", index)
    _put(_put(topic, "Labels"), "Label", finding.link)
    _put(topic, "CreationDate", when)
    _put(topic, "CreationAuthor", author)
    _put(topic, "Description", finding.reason)
    view_id = str(uuid.uuid5(uuid.UUID(topic_id), "viewpoint"))
    if finding.mends:
        comment = _put(_put(topic, "Comments"), "Comment", Guid=str(uuid.uuid5(uuid.UUID(topic_id), "mend")))
        _put(comment, "Date", when)
        _put(comment, "Author", author)
        _put(comment, "Comment", "Fix: " + "; ".join(m.label for m in finding.mends))
        _put(comment, "Viewpoint", Guid=view_id)
    view = _put(_put(topic, "Viewpoints"), "ViewPoint", Guid=view_id)
    _put(view, "Viewpoint", "viewpoint.bcfv")
    _put(view, "Index", 0)
    return _bytes(root)


def _viewpoint(guid: str, keys: tuple[str, ...], at: Point) -> bytes:
    """An eye to the south-west of the place and above it, what it is about selected."""
    root = _root("VisualizationInfo", Guid=guid)
    parts = _put(root, "Components")
    if keys:
        chosen = _put(parts, "Selection")
        for key in keys:
            _put(chosen, "Component", IfcGuid=key)
    _put(parts, "Visibility", DefaultVisibility="true")
    camera = _put(root, "PerspectiveCamera")
    eye = (at[0] - BACK_M / 2**0.5, at[1] - BACK_M / 2**0.5, at[2] + UP_M)
    look = tuple(a - e for a, e in zip(at, eye))
    length, flat = hypot(*look), hypot(look[0], look[1])
    ahead = tuple(v / length for v in look)
    # upwards as far as the eye sees it: at right angles to where it looks
    up = (-ahead[2] * look[0] / flat, -ahead[2] * look[1] / flat, flat / length)
    for name, vector in (("CameraViewPoint", eye), ("CameraDirection", ahead), ("CameraUpVector", up)):
        made = _put(camera, name)
        for axis, value in zip("XYZ", vector):
            _put(made, axis, f"{value:.6f}")
    _put(camera, "FieldOfView", 60)
    _put(camera, "AspectRatio", f"{16 / 9:.6f}")
    return _bytes(root)


def _parts(results: Results, finding: Finding) -> tuple[tuple[str, ...], Point]:
    """(ids in the IFC file, a place [m] in the building) of what a finding is about; the building's middle where it
    has no place.
    """
    project = results.project
    points = {p.id: (p.x_m, p.y_m, p.z_m) for p in project.duct_points}
    segment, terminal = find(project.segments, finding.object_id), find(project.terminals, finding.object_id)
    room = find(project.rooms, finding.object_id)
    if finding.kind == "segment" and segment is not None:
        a, b = points[segment.a], points[segment.b]
        middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2)
        return (ifc_id(project.model_name, "IfcDuctSegment", segment.id),), middle
    standing = inline_part(project, finding.object_id) if finding.kind == "inline" else None
    if standing is not None:
        duct, part = standing
        a, b = points[duct.a], points[duct.b]
        x, y, z = (u + part.at * (v - u) for u, v in zip(a, b))
        return (ifc_id(project.model_name, "IfcDuctSegment", duct.id),), (x, y, z)
    if finding.kind == "terminal" and terminal is not None:
        return (ifc_id(project.model_name, "IfcAirTerminal", terminal.id),), points[terminal.point_id]
    if finding.kind == "room" and room is not None:
        x, y = (sum(p[k] for p in room.outline) / len(room.outline) for k in (0, 1))
        level = find(project.levels, room.level_id)
        return (ifc_id(project.model_name, "room", room.id),), (x, y, (level.elevation_m if level else 0.0) + 1.0)
    every = [p for r in project.rooms for p in r.outline] or [(0.0, 0.0)]
    return (), (sum(p[0] for p in every) / len(every), sum(p[1] for p in every) / len(every), 1.0)
