"""The formats of reports that programs and browsers read: what reports, the interface and the
command line name alike."""

from __future__ import annotations

from typing import Literal

ReportForm = Literal["json", "csv", "sarif", "earl", "junit", "html"]
AccountForm = Literal["html", "md", "csv"]
