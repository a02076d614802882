"""How the bytes of a page become text: marks, headers and labels of the Encoding Standard."""

import pytest

from plumrake.lenses.markup import decode

KANA = "かな"


@pytest.mark.parametrize(
    ("body", "charset", "text"),
    [
        ("Fées".encode(), None, "Fées"),
        ("Fées".encode("cp1252"), None, "Fées"),
        ("Fées – “day”".encode("cp1252"), "ISO-8859-1", "Fées – “day”"),
        ("Fées".encode("cp1252"), "latin1", "Fées"),
        (KANA.encode("cp932"), "x-sjis", KANA),
        (KANA.encode("cp932"), "Shift_JIS", KANA),
        (KANA.encode("euc_jp"), "x-euc-jp", KANA),
        ("Łódź".encode("iso8859-2"), "latin2", "Łódź"),
        ("мост".encode("koi8-r"), "koi8_r", "мост"),
        ("桥".encode("gb18030"), "gb2312", "桥"),
        (b"\xef\xbb\xbf" + "Fées".encode(), "latin1", "Fées"),
        (b"\xff\xfe" + "Fées".encode("utf-16-le"), "utf-8", "Fées"),
        ("Fées".encode("utf-16-le"), "utf-16", "Fées"),
        (b"<meta charset=x-sjis>" + KANA.encode("cp932"), None, f"<meta charset=x-sjis>{KANA}"),
        (b"<meta charset=utf-16>" + "Fées".encode(), None, "<meta charset=utf-16>Fées"),
        ("Fées".encode(), "no-such-thing", "Fées"),
        (b"<meta charset=nonsense>" + "é".encode("cp1252"), None, "<meta charset=nonsense>é"),
        (b"\xff", "utf-8", "\ufffd"),
    ],
)
def test_text_of_a_body(body: bytes, charset: str | None, text: str) -> None:
    """Every label that browsers know is known; what nobody knows is passed over."""
    assert decode(body, charset) == text
