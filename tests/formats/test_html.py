"""Texts that people write: nothing in them can run, and their words stay."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.formats.html import clean, from_words, people_in, words_of
from rhodonite.formats.media import media_type_of

PERSON = "0192f0c1-0000-7000-8000-000000000001"


@pytest.mark.parametrize(
    "html",
    [
        "<script>alert(1)</script><p>a</p>",
        '<p onclick="alert(1)">a</p>',
        '<a href="javascript:alert(1)">a</a>',
        '<img src="x" onerror="alert(1)">a',
        '<img src="https://elsewhere.example/track.png">a',
        '<img src="/api/files/../session">a',
        "<iframe src='/'></iframe><p>a</p>",
        "<svg><script>alert(1)</script></svg><p>a</p>",
        '<p style="position:fixed">a</p>',
        '<span data-person="x&quot; onclick=&quot;y">a</span>',
        "<math><mtext></p><style><a title='</style><img src onerror=alert(1)>'>a",
    ],
)
def test_nothing_can_run(html: str) -> None:
    found = clean(html)
    for bad in ("script", "onclick", "onerror=", "javascript", "elsewhere", "iframe", "style=", "..", "<svg"):
        assert bad not in found


def test_what_a_text_may_have_stays() -> None:
    html = (
        "<h2>Sand</h2><ul><li><p>a <strong>b</strong></p></li></ul><table><tbody><tr><td>1</td></tr></tbody></table>"
        f'<pre><code>x</code></pre><p><span data-person="{PERSON}">@Ines</span></p><img src="/api/files/{PERSON}" alt="Plan">'
    )
    assert clean(html) == html


@given(st.text())
def test_cleaning_twice_changes_nothing(text: str) -> None:
    assert clean(clean(text)) == clean(text)


@given(st.text(st.characters(exclude_categories=["Cc", "Cs", "Zs", "Zl", "Zp", "Cf"])))
def test_plain_words_survive(text: str) -> None:
    assert words_of(from_words(text)) == text


def test_the_words_and_the_people_of_a_text() -> None:
    html = f'<p>Sand &amp; lime</p><ul><li>a</li><li>b</li></ul><p><span data-person="{PERSON}">@Ines</span>?</p>'
    assert words_of(html) == "Sand & lime\na\nb\n@Ines?"
    assert people_in(html) == [PERSON]
    assert clean("<p> </p><p></p>") == ""


@pytest.mark.parametrize(
    ("name", "data", "media_type"),
    [
        ("a.png", b"\x89PNG\r\n\x1a\n0", "image/png"),
        ("a.html", b"<script>alert(1)</script>", "application/octet-stream"),
        ("a.png", b"<svg onload='alert(1)'>", "application/octet-stream"),
        ("a.txt", b"<script>alert(1)</script>", "text/plain"),
        ("a.txt", b"\xff\xfe\x00", "application/octet-stream"),
        ("a.pdf", b"%PDF-1.7", "application/pdf"),
    ],
)
def test_what_could_run_is_plain_bytes(name: str, data: bytes, media_type: str) -> None:
    assert media_type_of(name, data) == media_type
