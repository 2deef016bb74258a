"""Use cases: one module for each area. They change things through a unit of work and never commit."""
