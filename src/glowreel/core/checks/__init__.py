"""Checks: what a viewer would stumble over, found by rule, each with cures that are commands.

One module for each family of checks; `CHECKS` lists them all. A check never changes anything.
"""

from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.checks.table import CHECKS, findings

__all__ = ["CHECKS", "Check", "Cure", "Finding", "Sight", "findings"]
