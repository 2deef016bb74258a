"""Designs: declarative animated graphics with fields, from titles to grids. A designer writes one without code.

A promo embeds the designs that it uses, so that it is complete wherever it is opened; parts of the kind `design` name
one and hold the values of its fields. Here a design is resolved into the drawing operations of every other content.
"""

from glowreel.core.design.model import Design

__all__ = ["Design"]
