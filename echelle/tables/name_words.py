"""What a column's name says: its words, its head, and the words of the trade that tell amounts, units of study and groups."""

from __future__ import annotations

import re
from functools import lru_cache
from itertools import pairwise

from echelle.tables.trade_words import TRADE_WORDS

_APART = re.compile(r"(?<=[a-zäöüß])(?=[A-ZÄÖÜ])|(?<=[A-Za-z])(?=\d)|[^\w%]+|_")
_BRACKETS = re.compile(r"[(\[{][^)\]}]*[)\]}]?")
_ID_ENDS = re.compile(
    r"^(?!(?:ac|a|flu|gr|cov|sol|val|inval|liqu|thyro|stero|hum|rap|avo|andro|k|lip|hybr|pa|sa|b|m|r|vo|tim|plac|plasm|candid"
    r"|trapezo|ellipso|arachno|opio|scaffo|hemorrho)id$)[a-z]{0,9}id$"
)
_CODE_ENDS = re.compile(
    r"^[a-z]{2,12}(?:num|nbr|code|cod|key)$|^(?:school|class|teacher|tch|hh|house|pers|person|pat|subj|stud|fam|emp|firm|dist)id\w?$"
)


def _words(kind: str) -> frozenset[str]:
    return frozenset(TRADE_WORDS["names"][kind].split())


UNITS_OF_STUDY = _words("units_of_study")
REPEATED_SUBJECTS = _words("repeated_subjects")
AMOUNTS = _words("amounts")
GROUP_WORDS = _words("group")
ARM_WORDS = _words("arm")
CLASS_WORDS = _words("class")
SEX_WORDS = _words("sex")
BLOCK_WORDS = _words("block")
EVENT_WORDS = _words("event")
OUTCOME_WORDS = _words("outcome")
COVARIATE_WORDS = _words("covariate")
TIME_WORDS = _words("time")
VISIT_WORDS = _words("visit")
WEAK_HEADS = _words("weak_heads")
AXES = _words("axes")
# "number of visits" is headed by "number"; "time to event" by "time"; "weight at birth" by "weight".
_AFTER_HEAD = _words("after_head")


@lru_cache(maxsize=4096)
def words_of(name: str) -> tuple[str, ...]:
    """A name's words in lower case: "patientId", "Age.Group" and "dose_mg" have two each; brackets are no part of it."""
    bare = _BRACKETS.sub(" ", name)
    return tuple(word.lower() for word in _APART.split(bare) if word)


@lru_cache(maxsize=4096)
def head_of(name: str) -> str:
    """The word that says what a column holds: "revenue" of "PatientRevenue", "number" of "Number of visits"."""
    words = list(words_of(name))
    for place, word in enumerate(words):
        if place and word in _AFTER_HEAD:
            words = words[:place]
            break
    while len(words) > 1 and (words[-1].isdigit() or len(words[-1]) == 1 or words[-1] in ("first", "second", "third")):
        words.pop()
    return words[-1] if words else ""


def has_qualifier(name: str) -> bool:
    """Whether brackets stand at a name's end: "Number (thousands)" counts thousands and names nobody."""
    return bool(re.search(r"[(\[][^)\]]*[)\]]\s*$", name))


def counts_something(name: str) -> bool:
    """ "number of visits", "no. of cells", "n of ..."."""
    words = words_of(name)
    return any(a in ("number", "no", "num", "nr", "n", "count") and b == "of" for a, b in pairwise(words))


def names_unit_of_study(name: str) -> bool:
    """Whether a name's head names a unit of study or an identifier: "patient_id", "hhid", "Plot", "sample no"."""
    head = head_of(name)
    if counts_something(name) or has_qualifier(name):
        return False
    return head in UNITS_OF_STUDY or bool(_ID_ENDS.match(head)) or bool(_CODE_ENDS.match(head))


def names_amount(name: str) -> bool:
    """Whether a name's head names an amount: "age", "number of visits", "BMI"."""
    return counts_something(name) or head_of(name) in AMOUNTS or (has_qualifier(name) and head_of(name) in ("number", "no"))


def names_group(name: str) -> bool:
    """Whether a name's head names groups: "Age.Group", "dose level"."""
    return head_of(name) in GROUP_WORDS
