"""XMP sidecars (ISO 16684-1): what a frame was of and how it was lit, for whatever reads pictures."""

import re
from xml.etree import ElementTree

from noggin.core.wording import signed
from noggin.documents.log import FrameEntry

NAMES = {
    "rdf": "http://www.w3.org/1999/02/22-rdf-syntax-ns#",
    "dc": "http://purl.org/dc/elements/1.1/",
    "noggin": "https://noggin.invalid/xmp/1.0/",
    "iptc": "http://iptc.org/std/Iptc4xmpExt/2008-02-29/",
}
"""Name spaces: RDF and Dublin Core as ISO 16684-1 uses them, IPTC's own extension, and one of ours, whose
name leads nowhere (RFC 2606). The outer wrapper, which that standard leaves open, is left out."""

for _prefix, _name in NAMES.items():
    ElementTree.register_namespace(_prefix, _name)


def sidecar(entry: FrameEntry) -> bytes:
    """The sidecar of a frame's file: title, description and subjects, and the figures by themselves."""
    rdf = ElementTree.Element(_named("rdf", "RDF"))
    about = ElementTree.SubElement(rdf, _named("rdf", "Description"), {_named("rdf", "about"): ""})
    if entry.setup:
        _listed(about, "title", "Alt", [entry.setup])
    words = _description(entry)
    if words:
        _listed(about, "description", "Alt", [words])
    subjects = [
        word for word in (entry.setup, entry.shoot, entry.way, *entry.lights, *entry.modifiers) if word
    ]
    if subjects:
        _listed(about, "subject", "Bag", list(dict.fromkeys(subjects)))
    for name, text in _figures(entry):
        ElementTree.SubElement(about, _named("noggin", name)).text = _plain(text)
    found: bytes = ElementTree.tostring(rdf, encoding="utf-8", xml_declaration=True)
    return found


COMPUTED = "http://cv.iptc.org/newscodes/digitalsourcetype/algorithmicMedia"
"""What a proof is by its origin: made by an algorithm alone. IPTC Photo Metadata Standard, Digital Source
Type."""


def picture_xmp(title: str, words: str) -> str:
    """What a computed picture carries inside: its title, what it shows, and that it is computed."""
    rdf = ElementTree.Element(_named("rdf", "RDF"))
    about = ElementTree.SubElement(rdf, _named("rdf", "Description"), {_named("rdf", "about"): ""})
    _listed(about, "title", "Alt", [title])
    _listed(about, "description", "Alt", [words])
    ElementTree.SubElement(about, _named("iptc", "DigitalSourceType")).text = COMPUTED
    return ElementTree.tostring(rdf, encoding="unicode")


def _named(prefix: str, name: str) -> str:
    return f"{{{NAMES[prefix]}}}{name}"


def _listed(about: ElementTree.Element, name: str, kind: str, texts: list[str]) -> None:
    owner = ElementTree.SubElement(about, _named("dc", name))
    rows = ElementTree.SubElement(owner, _named("rdf", kind))
    for text in texts:
        row = ElementTree.SubElement(rows, _named("rdf", "li"))
        if kind == "Alt":
            row.set("{http://www.w3.org/XML/1998/namespace}lang", "x-default")
        row.text = _plain(text)


def _description(entry: FrameEntry) -> str:
    dialled = entry.dialled
    powers = ", ".join(f"{name} {power}" for name, power in dialled.powers.items()) if dialled else ""
    filters = " + ".join(dialled.filters) if dialled else ""
    return ". ".join(part for part in (powers, filters, entry.note) if part)


def _figures(entry: FrameEntry) -> list[tuple[str, str]]:
    found = [("Way", entry.way or ""), ("Shoot", entry.shoot or ""), ("Verdict", entry.verdict or "")]
    found += [(f"Meant{_tag(zone)}", signed(level)) for zone, level in entry.meant.items()]
    found += [(f"Level{_tag(zone)}", signed(level.value)) for zone, level in entry.levels.items()]
    return [(name, text) for name, text in found if text]


def _tag(zone: str) -> str:
    """A zone as part of an element's name: a log from elsewhere may call it anything."""
    return re.sub(r"[^A-Za-z0-9]", "", zone.title())


def _plain(text: str) -> str:
    """Text without what no XML may hold (XML 1.0, section 2.2)."""
    return re.sub("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]", "", text)
