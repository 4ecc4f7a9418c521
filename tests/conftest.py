"""What all tests share: how long the property tests look, and a private PostgreSQL."""

from __future__ import annotations

import os

import pytest
from hypothesis import HealthCheck, Phase, settings

from cluster import Databases, reachable, sweep
from effort import DEEP, USUAL

settings.register_profile("usual", max_examples=USUAL, deadline=None, suppress_health_check=list(HealthCheck))
settings.register_profile("deep", parent=settings.get_profile("usual"), max_examples=DEEP)
# Whether a test fails is all that is asked; by which smallest world, nobody.
settings.register_profile("unshrunk", parent=settings.get_profile("usual"), phases=[Phase.explicit, Phase.generate])
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "usual"))


@pytest.fixture(scope="session")
def databases():
    """One private cluster for this worker."""
    made = Databases(reachable("cluster"))
    yield made
    made.cluster.stop("immediate")


def pytest_sessionfinish():
    """Leave no folder behind."""
    sweep()
