"""A formula over a table. No eval: the tree is walked, each node computes on whole columns."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import polars as pl
from lark import Token, Tree
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.numbers.sample import Floats
from echelle.tables.formulas import functions
from echelle.tables.formulas.grammar import parse_formula
from echelle.tables.formulas.values import Value, number, text, truth, value_of
from echelle.tables.grouping import groups_of
from echelle.tables.table import Column, Table

Node = Tree[Any]
_COMPARE: dict[str, Callable[[Any, Any], Any]] = {
    "=": lambda a, b: a == b, "≠": lambda a, b: a != b, "<": lambda a, b: a < b, ">": lambda a, b: a > b,
    "≤": lambda a, b: a <= b, "≥": lambda a, b: a >= b,
}  # fmt: skip
_SIGN = {"<=": "≤", ">=": "≥", "!=": "≠"}
_DATE_PARTS = ("year", "month", "day", "weekday")
_KNOWN = sorted({*functions.OF_ONE, *functions.OF_ROW, *functions.OF_GROUP, *_DATE_PARTS, "round", "days"})


def columns_of_formula(formula: str) -> set[str]:
    """The columns that a formula names. Raises InputError where it cannot be read."""
    return {_name(node) for node in parse_formula(formula).iter_subtrees() if node.data == "column"}


class Evaluation:
    """One formula over one table. ``lost`` (shape (rows,)) marks rows where a value could not be computed from values
    that are there: the logarithm of zero, a division by zero."""

    def __init__(self, formula: str, table: Table) -> None:
        self._table = table
        self._tree = parse_formula(formula)
        self.lost: NDArray[np.bool_] = np.zeros(table.rows, dtype=np.bool_)

    def value(self) -> Value:
        """The formula's value. Raises InputError that names the character."""
        return self._at(self._tree)

    def columns(self) -> list[str]:
        """The columns that the formula names."""
        return [_name(node) for node in self._tree.iter_subtrees() if node.data == "column"]

    def _at(self, node: Node) -> Value:
        method = getattr(self, f"_{node.data}")
        result: Value = method(node)
        return result

    def _number(self, node: Node) -> Value:
        return number(float(_token(node)))

    def _text(self, node: Node) -> Value:
        return text(pl.Series([_token(node)[1:-1].replace("''", "'")], dtype=pl.String))

    def _column(self, node: Node) -> Value:
        return value_of(self._column_value(node))

    def _column_value(self, node: Node) -> Column:
        try:
            return self._table.column(_name(node))
        except InputError as error:
            raise InputError(error.what, where=_place(node), remedy=error.remedy) from None

    def _numbers(self, node: Node) -> Floats:
        value = self._at(node)
        if value.kind != "number" or value.numbers is None:
            raise InputError(f"a number is needed, this is a {value.kind}", where=_place(node), remedy="Use a measure here.")
        return value.numbers

    def _truths(self, node: Node) -> Floats:
        value = self._at(node)
        if value.kind == "truth" and value.numbers is not None:
            return value.numbers
        if node.data == "column" and self._column_value(node).kind == "yes/no" and value.texts is not None:
            held = value.texts.str.to_lowercase().is_in(["yes", "y", "true"])
            return held.cast(pl.Float64).fill_null(float("nan")).to_numpy()
        raise InputError(
            f"a comparison is needed, this is a {value.kind}",
            where=_place(node),
            remedy="Write such as plate = '3'.",
        )

    def _keep_known(self, out: Floats, *inputs: Floats) -> Value:
        """A computed number; what is not finite is missing, and counted where its inputs were there."""
        bad = ~np.isfinite(out)
        there = np.logical_and.reduce([~np.isnan(array) for array in np.broadcast_arrays(out, *inputs)[1:]])
        self.lost |= np.broadcast_to(bad & there, (self._table.rows,))
        return number(np.where(bad, np.nan, out))

    def _chain(self, node: Node, apply: dict[str, Callable[[Any, Any], Any]]) -> Value:
        total = self._numbers(_tree(node.children[0]))
        for sign, part in zip(node.children[1::2], node.children[2::2], strict=True):
            right = self._numbers(_tree(part))
            with np.errstate(all="ignore"):
                held = self._keep_known(apply[str(sign)](total, right), total, right).numbers
            assert held is not None
            total = held
        return number(total)

    def _sum(self, node: Node) -> Value:
        return self._chain(node, {"+": np.add, "-": np.subtract, "−": np.subtract})

    def _product(self, node: Node) -> Value:
        times, over = np.multiply, np.divide
        return self._chain(node, {"*": times, "×": times, "·": times, "/": over, "÷": over})

    def _power(self, node: Node) -> Value:
        base, exponent = (self._numbers(_tree(child)) for child in node.children)
        with np.errstate(all="ignore"):
            return self._keep_known(np.power(base, exponent), base, exponent)

    def _minus(self, node: Node) -> Value:
        return number(-self._numbers(_tree(node.children[-1])))

    def _plus(self, node: Node) -> Value:
        return number(self._numbers(_tree(node.children[-1])))

    def _comparison(self, node: Node) -> Value:
        left, right = (self._at(_tree(node.children[i])) for i in (0, 2))
        sign = str(node.children[1])
        compare = _COMPARE[_SIGN.get(sign, sign)]
        known = ~(left.missing | right.missing)
        if left.numbers is not None and right.numbers is not None and left.kind == right.kind:
            with np.errstate(invalid="ignore"):
                return truth(compare(left.numbers, right.numbers), known)
        if left.texts is not None and right.texts is not None:
            held = compare(left.texts, right.texts).fill_null(False).to_numpy()
            return truth(held, known)
        raise InputError(
            f"a {left.kind} is compared with a {right.kind}",
            where=_place(node),
            remedy="Words stand in single quotes.",
        )

    def _is_missing(self, node: Node) -> Value:
        return truth(self._at(_tree(node.children[0])).missing)

    def _is_present(self, node: Node) -> Value:
        return truth(~self._at(_tree(node.children[0])).missing)

    def _negation(self, node: Node) -> Value:
        held = self._truths(_tree(node.children[0]))
        return Value("truth", numbers=1.0 - held)

    def _conjunction(self, node: Node) -> Value:
        # A false part settles it even where another is missing.
        parts = [self._truths(_tree(child)) for child in node.children]
        return Value("truth", numbers=_truth_of(parts, 0.0, 1.0))

    def _disjunction(self, node: Node) -> Value:
        parts = [self._truths(_tree(child)) for child in node.children]
        return Value("truth", numbers=_truth_of(parts, 1.0, 0.0))

    def _choice(self, node: Node) -> Value:
        held = self._truths(_tree(node.children[0]))
        before = self.lost.copy()
        yes, no = (self._at(_tree(child)) for child in node.children[1:])
        if yes.kind != no.kind:
            raise InputError(
                f"then gives a {yes.kind}, else a {no.kind}", where=_place(node), remedy="Give both the same kind."
            )
        if yes.numbers is not None and no.numbers is not None:
            chosen = np.where(held == 1, yes.numbers, no.numbers)
            numbers = np.where(np.isnan(held), np.nan, chosen)
            # What the branch not taken could not compute is no loss.
            self.lost &= before | np.broadcast_to(np.isnan(numbers), self.lost.shape)
            return Value(yes.kind, numbers=numbers)
        assert yes.texts is not None and no.texts is not None
        rows = self._table.rows
        first, second = (t if len(t) == rows else t.new_from_index(0, rows) for t in (yes.texts, no.texts))
        mask = np.broadcast_to(held, (rows,))
        texts = pl.select(pl.when(pl.Series(mask == 1)).then(first).when(pl.Series(mask == 0)).then(second)).to_series()
        return Value(yes.kind, texts=texts)

    def _call(self, node: Node) -> Value:
        token = node.children[0]
        name, arguments = str(token).lower(), _tree(node.children[1])
        parts = [_tree(child) for child in arguments.children]
        groups = [_name(column) for column in parts.pop().children] if parts[-1].data == "within" else None
        if name not in _KNOWN:
            raise InputError(f"there is no function “{token}”", where=_place(node), remedy=f"There are: {', '.join(_KNOWN)}.")
        if groups is not None:
            return self._group_value(name, node, parts, _tree(arguments.children[-1]))
        if name in _DATE_PARTS or name == "days":
            return self._dates(name, node, parts)
        if name == "round":
            return self._round(node, parts)
        numbers = [self._numbers(part) for part in parts]
        if name in functions.OF_ONE:
            yes = functions.one_argument(name, [number(n) for n in numbers], _place(node)).numbers
            assert yes is not None
            with np.errstate(all="ignore"):
                return self._keep_known(functions.OF_ONE[name](yes), yes)
        if name not in functions.OF_ROW or (len(numbers) == 1 and name != "count"):
            raise InputError(
                f"{name} of one column needs a category", where=_place(node), remedy=f"Write {name}(column within category)."
            )
        return number(functions.OF_ROW[name](numbers))

    def _group_value(self, name: str, node: Node, parts: list[Node], groups: Node) -> Value:
        if name not in functions.OF_GROUP or len(parts) != 1:
            raise InputError(
                f"{name} has no “within”",
                where=_place(node),
                remedy=f"One of {', '.join(functions.OF_GROUP)} has.",
            )
        names = [self._column_value(_tree(column)).name for column in groups.children]
        codes, count = groups_of(self._table, names)
        values = np.broadcast_to(self._numbers(parts[0]), (self._table.rows,))
        used = None if self._table.left_out is None else ~self._table.left_out
        return number(functions.within_groups(name, values, codes, count, used))

    def _dates(self, name: str, node: Node, parts: list[Node]) -> Value:
        values = [self._at(part) for part in parts]
        wanted = 2 if name == "days" else 1
        if len(values) != wanted or any(value.kind != "date" for value in values):
            form = "days(from, to)" if name == "days" else f"{name}(date)"
            raise InputError(f"{name} takes {wanted} date{'s' * (wanted - 1)}", where=_place(node), remedy=f"Write {form}.")
        return functions.days_between(*values) if name == "days" else functions.date_part(name, values[0])

    def _round(self, node: Node, parts: list[Node]) -> Value:
        digits = parts[1] if len(parts) == 2 else None
        if len(parts) not in (1, 2) or (digits is not None and digits.data != "number"):
            raise InputError("round takes a value and its decimals", where=_place(node), remedy="Write round(column, 1).")
        return number(np.round(self._numbers(parts[0]), 0 if digits is None else int(float(_token(digits)))))


def _truth_of(parts: list[Floats], settles: float, otherwise: float) -> Floats:
    arrays = np.broadcast_arrays(*parts)
    unknown = np.logical_or.reduce([np.isnan(a) for a in arrays])
    decided = np.logical_or.reduce([a == settles for a in arrays])
    return np.where(decided, settles, np.where(unknown, np.nan, otherwise))


def _tree(child: object) -> Node:
    assert isinstance(child, Tree)
    return child


def _token(node: Node) -> str:
    token = node.children[0]
    assert isinstance(token, Token)
    return str(token)


def _name(node: Node) -> str:
    written = _token(node)
    return written[1:-1].replace('""', '"') if written.startswith('"') else written


def _place(node: Node) -> str:
    return f"formula, character {(node.meta.start_pos or 0) + 1}"
