"""The page of constants says of each what stands beside it in its source."""

from docs.constants_page import Constant, constants_of

SOURCE = """
# What is lost [mm]; FAO-56,
# ch. 7.
LOST_MM = 4.0
LEAST, MOST = 0.1, 1 / 3  # share [-]
RANGE = (0.1, 0.9)
NAMES = ("a", "b")
_own = 3
TABLE = {"a": 1}
MADE = len("abc")
"""


def test_numbers_come_with_their_comments_and_nothing_else_does() -> None:
    assert list(constants_of(SOURCE)) == [
        Constant(("LOST_MM",), ("4.0",), "What is lost [mm]; FAO-56, ch. 7."),
        Constant(("LEAST", "MOST"), ("0.1", "1 / 3"), "share [-]"),
        Constant(("RANGE",), ("(0.1, 0.9)",), ""),
    ]
