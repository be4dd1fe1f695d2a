"""Tests of the rules.  A slow machine is no fault: cases have no deadline, and may take long to be made up."""

from hypothesis import HealthCheck, settings

settings.register_profile("patient", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("patient")
