"""The catalogue: code and files agree on messages and values, each language says all, rules have an entry a name."""

from __future__ import annotations

import ast
import re
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import Barrier
from typing import get_args

import fluent.runtime
import pytest
from fluent.syntax import FluentParser
from fluent.syntax import ast as ftl
from fluent.syntax.visitor import Visitor

from echelle.catalogue import catalogue as module
from echelle.catalogue.catalogue import LANGUAGES, Language, catalogue
from echelle.catalogue.message_template import MessageTemplate
from echelle.figures.settings import figure_options
from echelle.numbers.bandwidth import BANDWIDTHS, BandwidthRule
from echelle.numbers.bins import BIN_COUNTS, BinRule
from echelle.numbers.intervals import INTERVAL_RULES, CentreInterval
from echelle.numbers.outliers import OUTLIER_FENCES, OutlierRule
from echelle.numbers.quantiles import QUANTILE_DEFINITIONS, QuantileType
from echelle.numbers.remarks import Remark

ROOT = Path(__file__).parents[2]
FOLDER = ROOT / "echelle" / "catalogue"


# Messages that others hold.
REFERENCES: set[str] = set()


class Variables(Visitor):
    """The names of the values that a message takes."""

    def __init__(self) -> None:
        self.names: set[str] = set()

    def visit_MessageReference(self, node: ftl.MessageReference) -> None:
        REFERENCES.add(node.id.name)

    def visit_VariableReference(self, node: ftl.VariableReference) -> None:
        self.names.add(node.id.name)


def messages(file: str) -> dict[str, set[str]]:
    """Each message of a file with the values it takes."""
    resource = FluentParser().parse((FOLDER / f"{file}.ftl").read_text())
    assert not [entry for entry in resource.body if isinstance(entry, ftl.Junk)], "a message that cannot be read"
    result = {}
    for entry in resource.body:
        if isinstance(entry, ftl.Message):
            variables = Variables()
            variables.visit(entry)
            result[entry.id.name] = variables.names
    return result


# What says a message: the prefix of its name, and after how many arguments it stands (a method has one less).
SAYS = {
    "say": ("", 1), "remark": ("remark-", 0), "advice": ("advice-", 2), "remedy": ("remedy-", 1), "towards": ("remedy-", 1),
    "with_layers": ("remedy-", 1), "Remark": ("", 0), "Remedy": ("", 0),
    "MessageTemplate": ("", 1),
}  # fmt: skip


def calls() -> Iterator[tuple[str, str, set[str] | None]]:
    """Where a message is said: place, message, and the values given; None where they are given as a dictionary."""
    for path in (ROOT / "echelle").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.Call):
                continue
            method = isinstance(node.func, ast.Attribute)
            name = node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
            if name not in SAYS or len(node.args) <= (place := SAYS[name][1] - method):
                continue
            prefix, said = SAYS[name][0], node.args[place]
            # The reader's remarks carry their values as a dictionary.
            apart = name in ("Remark", "Remedy", "MessageTemplate") or any(k.arg is None for k in node.keywords)
            given = None if apart else {str(k.arg) for k in node.keywords}
            for message in (said.body, said.orelse) if isinstance(said, ast.IfExp) else (said,):
                if isinstance(message, ast.Constant):
                    yield f"{path.relative_to(ROOT)}:{node.lineno}", f"{prefix}{message.value}", given


def page_calls() -> Iterator[tuple[str, str, set[str]]]:
    """The same of the page."""
    for path in (ROOT / "web" / "src").rglob("*.ts*"):
        for message, values in re.findall(r"\bsay\(\s*\"([a-z-]+)\"(?:,\s*\{([^}]*)\})?", path.read_text()):
            yield str(path.relative_to(ROOT)), message, set(re.findall(r"(\w+):", values))


BRITISH = messages("en-GB")
# Said by a code that a rule's entry or a lane's mark names, or by the catalogue itself.
BY_CODE = re.compile(
    r"note-points-(joined|coloured|shaped)|remark-(bins|interval)-|note-box-within|advice-(hidden|chance)-peaks|read-(short|long)-rows"
    r"|read-(codes|zeros|long|years|compact-dates|serial-dates|names|clock|date-zones?|date-mixed)$"
)


def test_each_message_that_is_said_takes_just_the_values_given() -> None:
    for place, message, given in (*calls(), *page_calls()):
        assert message in BRITISH, f"{place}: no message {message}"
        # A message may leave a value out: another of its kind says it.
        assert given is None or BRITISH[message] <= given, (place, message, BRITISH[message] - given)


def test_no_message_is_left_over() -> None:
    said = {message for _, message, _ in (*calls(), *page_calls())}
    assert len(list(page_calls())) > 20
    assert {name for name in BRITISH if name not in said | REFERENCES and not BY_CODE.match(name)} == set()


def test_the_page_offers_every_language() -> None:
    assert figure_options().languages == list(LANGUAGES) == list(get_args(Language))


@pytest.mark.parametrize("language", LANGUAGES)
def test_other_languages_say_the_same_messages_with_the_same_values(language: str) -> None:
    for file in LANGUAGES[language]:  # type: ignore[index]
        assert all(BRITISH[name] == values for name, values in messages(file).items())


def test_a_value_that_is_missing_is_a_fault_and_never_printed() -> None:
    with pytest.raises(ValueError, match="note-line"):
        catalogue().say("note-line")
    with pytest.raises(KeyError):
        catalogue().say("note-of-nothing")


def test_threads_that_say_a_message_at_once_all_have_it(monkeypatch: pytest.MonkeyPatch) -> None:
    module._file.cache_clear()
    module.catalogue.cache_clear()
    words, barrier = catalogue(), Barrier(8)
    parse = fluent.runtime.FluentResource

    def slow(source: str) -> object:
        # While one parses, the others ask.
        time.sleep(0.02)
        return parse(source)

    def say() -> str:
        barrier.wait()
        return words.say("rows-added", count=2)

    monkeypatch.setattr(fluent.runtime, "FluentResource", slow)
    with ThreadPoolExecutor(8) as pool:
        assert {answer.result() for answer in [pool.submit(say) for _ in range(8)]} == {"2 rows added"}


def test_whole_numbers_are_counted_and_never_grouped() -> None:
    words = catalogue()
    assert [words.say("count-rows", count=n) for n in (1, 2, 12_345)] == ["1 row", "2 rows", "12345 rows"]
    assert words.names(["a", "b"]) == "a, b" and words.names(list("abcdef")) == "a, b, c, d and 2 more"


def test_american_differs_where_it_should() -> None:
    british, american = (
        catalogue(language).say("note-points-coloured", column="colour of eyes") for language in ("British", "American")
    )
    assert (british, american) == ("; colours: colour of eyes", "; colors: colour of eyes")


@pytest.mark.parametrize(
    ("entries", "names"),
    [
        (BIN_COUNTS, BinRule),
        (BANDWIDTHS, BandwidthRule),
        (OUTLIER_FENCES, OutlierRule),
        (INTERVAL_RULES, CentreInterval),
        (QUANTILE_DEFINITIONS, QuantileType),
    ],
    ids=["bins", "bandwidths", "outliers", "intervals", "quantiles"],
)
def test_each_rule_has_an_entry_with_its_source_and_a_stand_in_that_always_answers(entries: dict, names: object) -> None:
    assert set(entries) == set(get_args(names))
    for entry in entries.values():
        assert entry.source
        stand_in = getattr(entry, "stand_in", None)
        assert stand_in is None or not getattr(entries[stand_in], "no_answer", "")


def test_numbers_return_codes_and_no_sentences() -> None:
    # Names of tests and estimates are names; what has a verb or a full clause belongs to the catalogue.
    clause = re.compile(r"\b(needs|has no|have no|is|are|was|were|cannot|left out|stands in|counted as)\b")
    for path in (ROOT / "echelle/numbers").rglob("*.py"):
        tree = ast.parse(path.read_text())
        documented = {
            id(node.body[0].value)
            for node in ast.walk(tree)
            if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef)
            and node.body
            and isinstance(node.body[0], ast.Expr)
        }
        excused = {id(c) for node in ast.walk(tree) if isinstance(node, ast.Assert | ast.Raise) for c in ast.walk(node)}
        for node in ast.walk(tree):
            if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in documented | excused:
                spoken = " " in node.value and clause.search(node.value)
                assert not spoken, f"{path.relative_to(ROOT)}:{node.lineno}: {node.value}"


def test_a_name_that_is_cut_short_ends_its_sentence_with_one_stop() -> None:
    said = catalogue().say("advice-repeated-subjects", rows=4, subjects="2 ×", many="Sample no.", one="Sample no.")
    assert said == "4 rows come from 2 × Sample no." and catalogue().say("range", low="a...", high="b..c") == "a... to b..c"


def test_a_message_said_many_times_is_the_same_each_time() -> None:
    words = catalogue()
    template = MessageTemplate(words, "column-says", ("low", "high", "percent"))
    for count in (0, 1, 2, 5, 1, 21, 1_000):
        for ends in ("no", "below", "above"):
            low, high, percent = f"{count / 7:.3g}", "a { $high }", "1.0"
            said = words.say("column-says", open=ends, low=low, high=high, count=count, percent=percent)
            assert template.say(count, low, high, percent, open=ends) == said
    with pytest.raises(KeyError):
        MessageTemplate(words, "nobody-says", ()).say(1)


def test_a_remark_is_worded_with_the_names_of_rules() -> None:
    values = (("rule", "doane"), ("stand-in", "sturges"))
    said = catalogue().remark(Remark("bins-too-few", values))
    assert said == "Doane has no answer for fewer than three values; Sturges stands in" and catalogue().remark(None) == ""
