"""Writes the forms of preparation steps for the page, as JSON."""

import json

from echelle.tables.steps.forms import step_forms

if __name__ == "__main__":
    print(json.dumps(step_forms(), ensure_ascii=False, indent=1))
