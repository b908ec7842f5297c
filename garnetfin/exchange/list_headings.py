"""Headings of lists of rooms: where they stand in a table, what each means, in English, German, French, Spanish and
Italian words of the trade, and in which unit its column is.
"""

import re
import unicodedata
from dataclasses import dataclass
from difflib import get_close_matches
from functools import lru_cache

# What a column can mean: key -> (words on screen, quantity or "" for text).
FIELDS: dict[str, tuple[str, str]] = {
    "number": ("Number", ""),
    "name": ("Name", ""),
    "level": ("Level", ""),
    "use": ("Use", ""),
    "area": ("Area", "area"),
    "height": ("Ceiling height", "length"),
    "people": ("People", "count"),
    "lights": ("Lights", "power_density"),
    "equipment": ("Equipment", "power_density"),
    "heating": ("Heating set-point", "temperature"),
    "cooling": ("Cooling set-point", "temperature"),
    "roof": ("Roof area", "area"),
    "ground": ("Floor on ground", "area"),
    "zone": ("Zone", ""),
    "served": ("Served", ""),
}
# Spellings without accents, capitals and dots; words of one meaning in every language.
SPELLINGS: dict[str, tuple[str, ...]] = {
    "number": (
        *("number", "no", "nr", "room no", "room nr", "room number", "room id", "id", "ref", "room ref", "room code"),
        *("nummer", "raumnummer", "raum nr", "raum nummer", "raumnr", "rnr", "r nr", "lfd nr", "pos"),
        *("numero", "num", "n", "n°", "no local", "numero de local", "numero du local", "no piece", "numero de piece"),
        *("codigo", "numero de sala", "no recinto", "codice", "numero locale", "n locale", "nr locale", "num locale"),
    ),
    "name": (
        *("name", "room", "room name", "space", "space name", "designation", "description", "room description"),
        *("raum", "raumname", "raumbezeichnung", "bezeichnung", "benennung"),
        *("nom", "local", "piece", "nom du local", "nom de la piece", "libelle", "nombre", "estancia", "recinto"),
        *("sala", "denominacion", "nombre del local", "nome", "locale", "ambiente", "vano", "denominazione"),
        *("descrizione", "nome locale"),
    ),
    "level": (
        *("level", "storey", "story", "floor", "floor level", "level name"),
        *("geschoss", "etage", "stockwerk", "ebene", "stock"),
        *("niveau", "nivel", "planta", "piso", "piano", "livello"),
    ),
    "use": (
        *("use", "usage", "type", "function", "room use", "room type", "space type", "category"),
        *("nutzung", "nutzungsart", "raumnutzung", "raumtyp", "raumart", "funktion"),
        *("utilisation", "fonction", "affectation", "type de local", "uso", "tipo", "funcion", "destino"),
        *("tipo de local", "destinazione", "destinazione duso", "destinazione d uso", "tipologia", "funzione"),
    ),
    "area": (
        *(
            "area",
            "floor area",
            "net area",
            "net floor area",
            "room area",
            "size",
            "nia",
            "nfa",
            "sq ft",
            "sqft",
            "sqm",
        ),
        *(
            "flache",
            "grundflache",
            "nettoflache",
            "raumflache",
            "bodenflache",
            "netto grundflache",
            "ngf",
            "nrf",
            "nuf",
        ),
        *("surface", "superficie", "surface utile", "surface nette", "surf", "superficie util", "sup", "sup util"),
        *("superficie netta", "superficie utile", "area netta", "sup netta", "superficie neta"),
    ),
    "height": (
        *("height", "ceiling", "ceiling height", "clear height", "room height"),
        *("hohe", "raumhohe", "lichte hohe", "lichte raumhohe", "deckenhohe"),
        *("hauteur", "hsp", "hauteur sous plafond", "altura", "altura libre", "altura de techo"),
        *("altezza", "altezza netta", "altezza interna", "altezza utile"),
    ),
    "people": (
        *(
            "people",
            "persons",
            "occupants",
            "occupancy",
            "no of people",
            "number of people",
            "number of persons",
            "pax",
        ),
        *("personen", "personenzahl", "anzahl personen", "belegung", "pers"),
        *("personnes", "nombre de personnes", "effectif", "occupation", "personas", "ocupacion", "ocupantes"),
        *("persone", "occupanti", "affollamento", "numero persone"),
    ),
    "lights": (
        *("lights", "lighting", "lighting load", "lighting power density"),
        *("beleuchtung", "beleuchtungsleistung", "eclairage", "iluminacion", "alumbrado", "illuminazione"),
    ),
    "equipment": (
        *("equipment", "equip", "plug loads", "small power", "equipment load"),
        *("gerate", "geratelast", "ausstattung", "arbeitshilfen"),
        *("equipements", "appareils", "bureautique", "equipos", "equipamiento", "apparecchiature", "attrezzature"),
    ),
    "heating": (
        *("heating set-point", "heating setpoint", "heating set point", "winter temperature", "heating temperature"),
        *("solltemperatur heizen", "raumtemperatur winter", "temperatur winter", "norm innentemperatur", "t winter"),
        *("consigne hiver", "temperature hiver", "consigne chauffage", "consigna invierno", "temperatura invierno"),
        *("temperatura invernale", "setpoint invernale"),
    ),
    "cooling": (
        *("cooling set-point", "cooling setpoint", "cooling set point", "summer temperature", "cooling temperature"),
        *("solltemperatur kuhlen", "raumtemperatur sommer", "temperatur sommer", "t sommer"),
        *("consigne ete", "temperature ete", "consigne climatisation", "consigna verano", "temperatura verano"),
        *("temperatura estiva", "setpoint estivo"),
    ),
    "roof": (
        *(
            "roof",
            "roof area",
            "dach",
            "dachflache",
            "toiture",
            "surface de toiture",
            "cubierta",
            "azotea",
            "copertura",
        ),
        "tetto",
    ),
    "ground": (
        *("ground", "ground area", "floor on ground", "ground floor area", "bodenplatte", "flache gegen erdreich"),
        *(
            "dalle sur terre plein",
            "terre plein",
            "solera",
            "suelo en contacto",
            "controterra",
            "pavimento controterra",
        ),
    ),
    "zone": ("zone", "control zone", "regelzone", "zona"),
    "served": (
        *("served", "conditioned", "heated", "air conditioned", "beheizt", "klimatisiert", "versorgt"),
        *("climatise", "chauffe", "climatizado", "climatizzato", "riscaldato"),
    ),
}
BEARINGS = {"n": 0.0, "ne": 45.0, "e": 90.0, "se": 135.0, "s": 180.0, "sw": 225.0, "w": 270.0, "nw": 315.0}
COMPASS = {
    "n": ("North", "nord", "norte"),
    "ne": ("North-east", "nordost", "nord-est", "nordest", "noreste"),
    "e": ("East", "ost", "est", "este"),
    "se": ("South-east", "sudost", "sud-est", "sudest", "sureste"),
    "s": ("South", "sud", "sur"),
    "sw": ("South-west", "sudwest", "sud-ouest", "sudovest", "suroeste", "so"),
    "w": ("West", "ouest", "oeste", "ovest"),
    "nw": ("North-west", "nordwest", "nord-ouest", "nordovest", "noroeste", "no"),
}
for _key, (_words, *_) in COMPASS.items():
    FIELDS[f"wall {_key}"] = (f"Outside wall {_words.lower()}", "length")
    FIELDS[f"glass {_key}"] = (f"Glass {_words.lower()}", "area")
_WALL = re.compile(
    r"(?:outside |external |outer )?walls?(?: length)?|aussenw[a]nd(?:lange)?|au?ssenwand|mur(?: exterieur)?|"
    r"muro(?: exterior)?|parete(?: esterna)?"
)
_GLASS = re.compile(
    r"(?:glass|glazing|windows?)(?: area)?|fenster(?:flache)?|glas(?:flache)?|verglasung|vitrage|fenetres?|vitrages?|"
    r"ventanas?|vidrio|acristalamiento|finestr[ae]|vetr[oi]|vetrata"
)
# Rows of sums: what their words begin with.
TOTALS = re.compile(
    r"(?:grand |sub)?total|sum\b|summe|gesamt|zwischensumme|totaux|somme|sous.total|suma\b|subtotal|totale|somma|"
    r"totali|subtotale|insgesamt"
)
LEVEL_WORDS = re.compile(
    r"(?:level|floor|storey|story|basement|ground|geschoss|\w*geschoss|etage|stockwerk|ebene|keller|erdgeschoss|eg|"
    r"[ou]g ?\d|\d\.? ?[ou]g|niveau|rez|sous-sol|rdc|r\+\d|nivel|planta|sotano|piano|interrato|terra|livello)\b"
)
UNITS = re.compile(
    r"\[?\(?(m2|m²|qm|sqm|m\^2|ft2|ft²|sq ?ft|sf|m|mm|cm|ft|in|w/m2|w/m²|w/ft2|w/ft²|w|kw|°c|c|°f|f|k|"
    r"-|pers\.?|pers|stk|st|l/s|m3/h|m³/h)\)?\]?"
)
SEARCHED = 40  # first rows in which headings are looked for
LEAST_KNOWN = 2  # headings that must be known in a row of headings


@dataclass(frozen=True, slots=True)
class Headings:
    """Where headings stand: texts by column, units by column, the first row below them, what stands above."""

    heads: tuple[str, ...]
    units: dict[int, str]
    below: int
    above: tuple[str, ...] = ()


def plain(text: str) -> str:
    """Small letters without accents, brackets and signs."""
    text = re.sub(r"[\[(].*?[\])]", " ", text.lower().replace("ß", "ss"))
    text = "".join(c for c in unicodedata.normalize("NFKD", text) if not unicodedata.combining(c))
    text = re.sub(r"['’`]", " ", text)
    return re.sub(r"\s+", " ", re.sub(r"[.:_\-–/,;*#]+", " ", text)).strip()


@lru_cache(maxsize=4096)
def field_of(head: str) -> str:
    """What a heading means, "" where it is not known."""
    found = plain(head)
    for pattern, kind in ((_WALL, "wall"), (_GLASS, "glass")):
        match = pattern.match(found)
        side = found[match.end() :].strip().replace(" ", "-") if match else ""
        for key, (word, *others) in COMPASS.items() if side else ():
            if side.replace("-", "") in {w.lower().replace("-", "") for w in (key, word, *others)}:
                return f"{kind} {key}"
    short = re.sub(r"\s(?:in )?(?:m2|m²|qm|sqm|ft2|ft²|m|ft|w m2|w|c|°c)$", "", found)
    for words in (found, short):
        for key, spellings in SPELLINGS.items():
            if words in spellings:
                return key
    every = [s for spellings in SPELLINGS.values() for s in spellings if len(s) > 3]
    close = get_close_matches(short, every, 1, 0.86) if len(short) > 3 else []
    return next((k for k, spellings in SPELLINGS.items() if close and close[0] in spellings), "")


def guess_columns(heads: list[str]) -> dict[str, int]:
    """Field -> column by the words of the headings; a column means one thing at most."""
    mapping: dict[str, int] = {}
    for column, head in enumerate(heads):
        key = field_of(head)
        if key and key not in mapping:
            mapping[key] = column
    return mapping


def unit_in(head: str) -> str:
    """A unit in brackets in a heading, or behind its words: Area [ft²], Fläche in m²."""
    found = re.search(r"[\[(]\s*(.+?)\s*[\])]", head)
    if found and len(found.group(1)) < 15:
        return found.group(1)
    behind = re.search(r"\s(?:in )?(m²|m2|qm|sqm|ft²|ft2|sq ?ft|W/m²|W/m2|W/ft²|W/ft2|°C|°F)$", head.strip())
    if behind:
        return behind.group(1)
    return {"sq ft": "ft²", "sqft": "ft²", "sqm": "m²", "qm": "m²"}.get(plain(head), "")


def find_headings(rows: list[list[str]]) -> Headings | None:
    """The row, or the two rows of which the upper holds groups, in which most columns are known.

    None where no row holds two known headings, one of them a number, a name or an area.
    """
    best: tuple[float, Headings] | None = None
    for i, row in enumerate(rows[:SEARCHED]):
        for heads, below in ((row, i + 1), (_joined(row, rows[i + 1]), i + 2) if i + 1 < len(rows) else (None, 0)):
            if heads is None:
                continue
            known = guess_columns(heads)
            words = sum(bool(h.strip()) and not _is_figure(h) for h in heads)
            if len(known) < LEAST_KNOWN or not {"number", "name", "area"} & set(known):
                continue
            if len(known) < 0.3 * words and len(known) < 4:
                continue  # a line of prose that holds two of the words
            if below == i + 2 and any(_is_figure(c) for c in rows[i + 1]):
                continue  # the second row is a room already
            # each known column counts, fewer rows are better, and so is an upper place
            score = len(known) - 0.6 * (below - i - 1) - 0.01 * i
            if best is None or score > best[0] + 1e-9:
                above = tuple(" ".join(c for c in r if c.strip()) for r in rows[:i])
                best = score, _with_units(heads, rows, below, tuple(a for a in above if a.strip()))
    return best[1] if best is not None else None


def _with_units(heads: list[str], rows: list[list[str]], below: int, above: tuple[str, ...]) -> Headings:
    """Headings with their units, from brackets or from a row of units below them."""
    units = {c: u for c, h in enumerate(heads) if (u := unit_in(h))}
    if below < len(rows):
        cells = [c.strip() for c in rows[below]]
        filled = [c for c in cells if c]
        if filled and all(UNITS.fullmatch(c.lower()) for c in filled) and any(c not in ("-",) for c in filled):
            units |= {c: u.strip("[]()") for c, u in enumerate(cells) if u and u != "-"}
            below += 1
    return Headings(tuple(heads), units, below, above)


def _joined(upper: list[str], lower: list[str]) -> list[str] | None:
    """Two rows of headings as one: an upper cell holds for the empty ones behind it, as merged cells do."""
    if not any(c.strip() for c in lower):
        return None
    made, group = [], ""
    for c in range(max(len(upper), len(lower))):
        above = upper[c].strip() if c < len(upper) else ""
        below = lower[c].strip() if c < len(lower) else ""
        group = above or group
        if not below:
            made.append(above)
        elif field_of(f"{group} {below}"):
            made.append(f"{group} {below}".strip())
        else:
            made.append(below if not above or field_of(below) else f"{above} {below}")
    return made


def _is_figure(cell: str) -> bool:
    return bool(re.fullmatch(r"[-+]?\d[\d.,'’ \u202f\u2009]*", cell.strip()))


def is_total(cells: tuple[str, ...]) -> bool:
    """Whether a row holds sums: its first words say so."""
    words = next((plain(c) for c in cells if c.strip() and not _is_figure(c)), "")
    return bool(TOTALS.match(words))


def decimal_comma(cells: list[str]) -> bool | None:
    """Whether figures are written with a decimal comma; None where nothing tells."""
    votes = 0
    for cell in cells:
        figure = re.match(r"\s*[-+]?([\d.,'’ \u202f\u2009]*\d)", cell)
        if figure is None:
            continue
        digits = re.sub(r"['’ \u202f\u2009]", "", figure.group(1))
        if "," in digits and "." in digits:
            votes += 3 if digits.rindex(",") > digits.rindex(".") else -3
        elif re.search(r",\d{1,2}$|,\d{4,}$", digits) and digits.count(",") == 1:
            votes += 1
        elif digits.count(",") > 1:
            votes -= 3
        elif re.search(r"\.\d{1,2}$|\.\d{4,}$", digits) and digits.count(".") == 1:
            votes -= 1
        elif digits.count(".") > 1:
            votes += 3
    return None if votes == 0 else votes > 0


def plain_figure(cell: str, comma: bool) -> str:
    """A figure with its decimal point alone, what stands behind it as it is."""
    match = re.match(r"(\s*[-+\u2212]?)([\d.,'’ \u202f\u2009]*\d)(.*)$", cell, re.DOTALL)
    if match is None or re.match(r"\s*['’\"]|\s*'", match.group(3)):
        return cell  # feet and inches
    digits = re.sub(r"[ \u202f\u2009’]", "", match.group(2))
    if re.fullmatch(r"\d{1,3}('\d{3})+([.,]\d+)?", digits):
        digits = digits.replace("'", "")
    elif "'" in digits:
        return cell
    thousands, point = (".", ",") if comma else (",", ".")
    if re.fullmatch(rf"\d{{1,3}}(\{thousands}\d{{3}})+(\{point}\d+)?", digits):
        digits = digits.replace(thousands, "")
    return f"{match.group(1)}{digits.replace(',', '.')}{match.group(3)}"
