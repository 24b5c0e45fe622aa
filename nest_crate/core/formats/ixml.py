"""iXML 1.61: what a WAV says in XML. A tree of another program is kept and written back.

All bytes are hostile until looked at: what defines entities of its own, or is no XML, is left out.
"""

from __future__ import annotations

from xml.etree.ElementTree import Element, ParseError, SubElement, tostring

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from nest_crate.core.formats.tagged import SoundFacts

__all__ = ["FURTHER", "OWN_REFERENCE", "ixml_chunk", "ixml_texts", "kept_ixml"]

# Elements of iXML, and comments of FLAC and Ogg, beside those that every program knows.
FURTHER = {
    "VARIATION_GROUP": "variation_group",
    "VARIATION": "variation",
    "FOLLOWS_KEY": "follows_key",
    "KEY": "key",
}
OWN_REFERENCE = "nest-crate-"
_READ = {
    "USER/KEYWORDS": "tags",
    "USER/LICENCE": "licence",
    "USER/TEMPO": "tempo",
    **{f"USER/{name}": key for name, key in FURTHER.items()},
    "NOTE": "description",
}
_OWN = ("IXML_VERSION", "PROJECT", "SCENE", "TAKE", "NOTE", "FILE_UID", "TRACK_LIST")
_OWN_IN_USER = ("CATEGORY", "SUBCATEGORY", "KEYWORDS", "LICENCE", "TEMPO", *FURTHER)
_LONGEST = 60_000


def _tree(content: bytes | str) -> Element | None:
    if isinstance(content, bytes):
        content = content.split(b"\0", 1)[0]
    if not content or len(content) > _LONGEST:
        return None
    try:
        tree: Element = fromstring(content)
    except (ParseError, DefusedXmlException, ValueError, LookupError):
        return None
    return tree if tree.tag == "BWFXML" else None


def ixml_texts(content: bytes) -> dict[str, str]:
    """What an iXML chunk says of the fields of a sample."""
    tree = _tree(content)
    if tree is None:
        return {}
    found = {key: text for path, key in _READ.items() if (text := tree.findtext(path))}
    kinds = [tree.findtext(f"USER/{name}") for name in ("CATEGORY", "SUBCATEGORY")]
    if kinds[0]:
        found["genre"] = " / ".join(one for one in kinds if one)
    return found


def kept_ixml(content: bytes) -> str:
    """An iXML chunk as it is kept beside a sample; empty where it says nothing but what this
    program writes from the sample's own fields."""
    tree = _tree(content)
    if tree is None:
        return ""
    if (tree.findtext("FILE_UID") or "").startswith(OWN_REFERENCE):
        for name in _OWN:
            for one in tree.findall(name):
                tree.remove(one)
        user = tree.find("USER")
        if user is not None:
            for one in list(user):
                if one.tag in _OWN_IN_USER:
                    user.remove(one)
            if len(user) == 0:
                tree.remove(user)
        if len(tree) == 0:
            return ""
    return tostring(tree, encoding="unicode")


def ixml_chunk(facts: SoundFacts, channels: int) -> bytes:
    """The iXML of a file of so many channels.

    What another program's tree holds stays as it is; the description and the words in USER, which
    people change here, are those of the facts.
    """
    kept = _tree(facts.ixml)
    tree = Element("BWFXML") if kept is None else kept
    for name, value in (
        ("IXML_VERSION", "1.61"),
        ("PROJECT", facts.library),
        ("SCENE", facts.title),
        ("TAKE", facts.variation),
        ("FILE_UID", facts.reference),
    ):
        if tree.find(name) is None:
            _put(tree, name, value)
    _put(tree, "NOTE", facts.description)
    if tree.findtext("TRACK_LIST/TRACK_COUNT") != str(channels):
        _put_tracks(tree, channels)
    _put_user(tree, facts)
    return b'<?xml version="1.0" encoding="UTF-8"?>' + tostring(tree, encoding="unicode").encode()


def _put(parent: Element, name: str, value: object) -> None:
    """One element of this name with the value; none where the value says nothing."""
    there = parent.find(name)
    # Other fields of a file end a text at its first zero.
    text = "" if value is None else str(value).split("\0", 1)[0]
    if not text:
        if there is not None:
            parent.remove(there)
        return
    one = SubElement(parent, name) if there is None else there
    # A blank in its place, as everywhere else where a sign cannot be shown.
    one.text = "".join(sign if _may_stand(ord(sign)) else " " for sign in text)


def _may_stand(code: int) -> bool:
    """Whether XML 1.0 may hold a sign (section 2.2)."""
    return code in (9, 10) or 0x20 <= code <= 0xD7FF or 0xE000 <= code <= 0xFFFD or code > 0xFFFF


def _put_tracks(tree: Element, channels: int) -> None:
    for one in tree.findall("TRACK_LIST"):
        tree.remove(one)
    tracks = SubElement(tree, "TRACK_LIST")
    SubElement(tracks, "TRACK_COUNT").text = str(channels)
    names = ["Mono"] if channels == 1 else ["Left", "Right"]
    for number, name in enumerate(names, 1):
        track = SubElement(tracks, "TRACK")
        for tag in ("CHANNEL_INDEX", "INTERLEAVE_INDEX"):
            SubElement(track, tag).text = str(number)
        SubElement(track, "NAME").text = name
        SubElement(track, "FUNCTION").text = name.upper()


def _put_user(tree: Element, facts: SoundFacts) -> None:
    values = {
        "CATEGORY": facts.category,
        "SUBCATEGORY": facts.subcategory,
        "KEYWORDS": ", ".join(facts.tags),
        "LICENCE": facts.licence,
        "TEMPO": facts.tempo_bpm,
        **facts.further,
    }
    there = tree.find("USER")
    user = Element("USER") if there is None else there
    for name in _OWN_IN_USER:
        _put(user, name, values.get(name))
    if there is None and len(user) > 0:
        tree.append(user)
