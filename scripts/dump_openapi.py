"""Write the service's OpenAPI document for the console's types; no database is asked."""

import json
import sys
from pathlib import Path

from plumrake.service.app import create_app

Path(sys.argv[1]).write_text(json.dumps(create_app().openapi(), indent=1))
