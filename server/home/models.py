"""What is searched: an entry for each study, comparison, table and folio."""

from __future__ import annotations

import uuid

from django.contrib.postgres.indexes import GinIndex
from django.db import models

from server.studies.models import Study


class SearchEntry(models.Model):
    """The words that something is found by, folded (lower case, no accents). ``words`` are open to everyone in the study,
    ``rows`` (levels of columns) to those who may see rows. ``pieces`` are the same as written, each with what it is.
    """

    class What(models.TextChoices):
        STUDY = "study"
        COMPARISON = "comparison"
        TABLE = "table"
        FOLIO = "folio"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, help_text="of what is found")
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    what = models.CharField(max_length=10, choices=What.choices)
    name = models.CharField(max_length=255)
    words = models.TextField()
    rows = models.TextField(default="")
    pieces = models.JSONField(default=list)
    changed = models.DateTimeField()

    class Meta:
        indexes = [
            GinIndex(fields=["words"], name="search_words", opclasses=["gin_trgm_ops"]),
            GinIndex(fields=["rows"], name="search_rows", opclasses=["gin_trgm_ops"]),
        ]

    def __str__(self) -> str:
        return f"{self.what} {self.name}"


class Word(models.Model):
    """A word that something anywhere is found by, once: typing errors are held against these."""

    text = models.CharField(max_length=40, primary_key=True)

    class Meta:
        indexes = [GinIndex(fields=["text"], name="word_trigrams", opclasses=["gin_trgm_ops"])]

    def __str__(self) -> str:
        return self.text


class SearchWord(models.Model):
    """A word that something in a study is found by: what a typing error of its people may have meant."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    word = models.CharField(max_length=40)
    rows = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["study", "word", "rows"], name="one_word_a_study")]
        indexes = [models.Index(fields=["word"], name="search_word_studies")]

    def __str__(self) -> str:
        return self.word
