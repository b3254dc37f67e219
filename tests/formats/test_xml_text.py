"""Text in documents of XML."""

from __future__ import annotations

from xml.etree.ElementTree import Element, fromstring, tostring

from hypothesis import given
from hypothesis import strategies as st

from rhodonite.formats.xml_text import xml_text


@given(st.text(st.characters(exclude_categories=())))
def test_any_text_can_stand_in_a_document(text: str) -> None:
    root = Element("note")
    root.text = xml_text(text)
    read = fromstring(tostring(root, encoding="utf-8")).text or ""
    assert read == xml_text(text).replace("\r\n", "\n").replace("\r", "\n")


def test_what_xml_does_not_have_is_left_out() -> None:
    assert xml_text("a\ufffeb\uffffc\x00d\te") == "abcd\te"
