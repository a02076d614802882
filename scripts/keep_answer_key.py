"""Write the demo's answer key anew from the marks in its contents; read the difference before you
keep it."""

import json
from pathlib import Path

from plumrake.demo.site import ENVIRONMENTS, answer_key

TARGET = Path(__file__).parent.parent / "src/plumrake/demo/answer_key.json"
TARGET.write_text(
    json.dumps({environment: answer_key(environment) for environment in ENVIRONMENTS}, indent=1)
    + "\n"
)
