"""Preparation: replayable steps from the table as read to the rows in use."""
