"""The words of figures: one Fluent file a language, and what says a message of it."""
