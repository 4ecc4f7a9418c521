"""What all tests share: how long the property tests look."""

from __future__ import annotations

import os

from hypothesis import HealthCheck, settings

settings.register_profile("usual", max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
settings.register_profile("deep", parent=settings.get_profile("usual"), max_examples=3000)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "usual"))
