"""Write the demo's answer key anew from the marks in its contents; read the difference before you keep it."""

import json
from pathlib import Path

from plumrake.demo.site import EDITIONS, answer_key

TARGET = Path(__file__).parent.parent / "src/plumrake/demo/answer_key.json"
TARGET.write_text(json.dumps({edition: answer_key(edition) for edition in EDITIONS}, indent=1) + "\n")
