"""Codebooks as DDI-Codebook XML (version 2.5): variables, labels, categories, what is missing."""

import xml.etree.ElementTree as ElementTree

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from hobrix.core.data import Category, MissingCode, Variable
from hobrix.core.data.variable import Kind
from hobrix.core.errors import FormatError
from hobrix.core.formats.codebook import Codebook

NAMESPACE = "ddi:codebook:2_5"
_KINDS: dict[str, Kind] = {"ordinal": "ordinal", "nominal": "nominal"}
_NATURE: dict[Kind, str] = {
    "nominal": "nominal",
    "ordinal": "ordinal",
    "numeric": "ratio",
    "text": "other",
    "date": "interval",
}


def read_ddi(data: bytes) -> Codebook:
    """Read the variables of a DDI-Codebook document.

    Raises:
        FormatError: not XML, not DDI-Codebook, or with entities (which can hide attacks).
    """
    try:
        root = fromstring(data)
    except DefusedXmlException:
        message = "This XML declares entities, which codebooks have no use for. It was not opened."
        raise FormatError(message) from None
    except ElementTree.ParseError as error:
        line, column = error.position
        raise FormatError(
            f"Line {line} is not valid XML (character {column}).", line=line
        ) from None
    if _local(root.tag) != "codeBook":
        raise FormatError("This XML is not a DDI codebook.")
    variables = [_variable(each) for each in root.iter() if _local(each.tag) == "var"]
    return Codebook(variables=tuple(variables))


def _local(tag: str) -> str:
    return tag.rsplit("}", 1)[-1]


def _children(element: ElementTree.Element, name: str) -> list[ElementTree.Element]:
    return [child for child in element if _local(child.tag) == name]


def _text(element: ElementTree.Element, name: str) -> str:
    found = _children(element, name)
    return " ".join("".join(found[0].itertext()).split()) if found else ""


def _variable(element: ElementTree.Element) -> Variable:
    name = element.get("name") or element.get("ID") or ""
    if not name:
        raise FormatError("A variable of this codebook has no name.")
    answers, missing = [], []
    for category in _children(element, "catgry"):
        value, label = _text(category, "catValu"), _text(category, "labl")
        if category.get("missing") == "Y":
            missing.append(MissingCode(value=value, label=label))
        else:
            answers.append(Category(value=value, label=label or value))
    return Variable(
        name=name,
        label=_text(element, "labl"),
        kind=_kind(element, has_categories=bool(answers)),
        categories=tuple(answers),
        missing=tuple(missing),
        unit=element.get("measUnit") or "",
    )


def _kind(element: ElementTree.Element, *, has_categories: bool) -> Kind:
    nature = element.get("nature") or ""
    formats = _children(element, "varFormat")
    if formats and formats[0].get("category") == "date":
        return "date"
    is_text = bool(formats) and formats[0].get("type") == "character"
    if nature in _KINDS:
        return _KINDS[nature]
    if has_categories and nature not in ("interval", "ratio"):
        return "nominal" if nature != "other" else "text"
    return "text" if is_text and nature not in ("interval", "ratio") else "numeric"


def write_ddi(codebook: Codebook, title: str) -> bytes:
    """The codebook as a DDI-Codebook document."""
    ElementTree.register_namespace("", NAMESPACE)
    root = ElementTree.Element(f"{{{NAMESPACE}}}codeBook", {"version": "2.5"})
    study = _path(root, "stdyDscr")
    _add(_path(study, "citation", "titlStmt"), "titl", title)
    if codebook.note:
        _add(study, "notes", codebook.note)
    description = _path(root, "dataDscr")
    for variable in codebook.variables:
        attributes = {"name": variable.name, "nature": _NATURE[variable.kind]}
        if variable.unit:
            attributes["measUnit"] = variable.unit
        element = _add(description, "var", "", attributes)
        _add(element, "labl", variable.label)
        for category in variable.categories:
            _category(element, category.value, category.label)
        for code in variable.missing:
            _category(element, code.value, code.label, missing="Y")
        kind = "numeric" if variable.kind == "numeric" else "character"
        form = {"type": kind}
        if variable.kind == "date":
            form |= {"category": "date", "formatname": variable.date_form or "ymd"}
        _add(element, "varFormat", "", form)
    ElementTree.indent(root, " ")
    written: bytes = ElementTree.tostring(root, encoding="utf-8", xml_declaration=True)
    return written


def _path(root: ElementTree.Element, *names: str) -> ElementTree.Element:
    for name in names:
        root = _add(root, name)
    return root


def _add(
    parent: ElementTree.Element, name: str, text: str = "", attributes: dict[str, str] | None = None
) -> ElementTree.Element:
    element = ElementTree.SubElement(parent, f"{{{NAMESPACE}}}{name}", attributes or {})
    element.text = text or None
    return element


def _category(parent: ElementTree.Element, value: str, label: str, **attributes: str) -> None:
    element = _add(parent, "catgry", "", attributes)
    _add(element, "catValu", value)
    _add(element, "labl", label)
