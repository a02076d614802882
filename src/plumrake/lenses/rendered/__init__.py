"""The rendered lens: headless Chromium reads the page, a collector script hands it over in one
round trip."""
