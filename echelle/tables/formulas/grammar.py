"""The grammar and its parser. Errors point at the character."""

from __future__ import annotations

from functools import cache
from typing import Any

from lark import Lark, Tree, UnexpectedCharacters, UnexpectedEOF, UnexpectedInput, UnexpectedToken

from echelle.errors import InputError

GRAMMAR = r"""
?start: expression

?expression: "if"i expression "then"i expression "else"i expression -> choice
           | disjunction
?disjunction: conjunction ("or"i conjunction)*
?conjunction: negation ("and"i negation)*
?negation: "not"i negation -> negation
         | comparison
?comparison: sum (COMPARES sum)?
           | sum "is"i "missing"i -> is_missing
           | sum "is"i "not"i "missing"i -> is_present
?sum: product ((PLUS | MINUS) product)*
?product: signed ((TIMES | OVER) signed)*
?signed: MINUS signed -> minus
       | PLUS signed -> plus
       | power
?power: atom ("^" signed)?
?atom: NUMBER -> number
     | TEXT -> text
     | NAME "(" arguments ")" -> call
     | column
     | "(" expression ")"
arguments: expression ("," expression)* ("within"i within)?
within: column ("," column)*
column: NAME | QUOTED

COMPARES: "<=" | ">=" | "!=" | "≤" | "≥" | "≠" | "<" | ">" | "="
PLUS: "+"
MINUS: "-" | "−"
TIMES: "*" | "×" | "·"
OVER: "/" | "÷"
NUMBER: /(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?/
TEXT: /'([^']|'')*'/
QUOTED: /"([^"]|"")+"/
NAME: /(?!(?:if|then|else|and|or|not|is|missing|within)\b)[^\W\d]\w*/i
%ignore /\s+/
"""


@cache
def _parser() -> Lark:
    return Lark(GRAMMAR, parser="lalr", propagate_positions=True, maybe_placeholders=False, keep_all_tokens=False)


def parse_formula(formula: str) -> Tree[Any]:
    """The tree of a formula. Raises InputError that names the character."""
    try:
        return _parser().parse(formula)
    except UnexpectedEOF:
        raise _fault(formula, len(formula), "the formula ends too early") from None
    except UnexpectedToken as error:
        if error.token.type == "$END":
            raise _fault(formula, len(formula), "the formula ends too early") from None
        raise _fault(formula, (error.pos_in_stream or 0), f"“{error.token}” does not fit here") from None
    except UnexpectedCharacters as error:
        at = error.pos_in_stream or 0
        raise _fault(formula, at, f"“{formula[at]}” does not fit here") from None
    except UnexpectedInput:
        raise _fault(formula, 0, "this is no formula") from None


def _fault(formula: str, at: int, what: str) -> InputError:
    return InputError(what, where=f"formula, character {at + 1}", remedy=_REMEDY)


_REMEDY = "Names with spaces stand in double quotes, words in single ones; see docs/formulas.md."
