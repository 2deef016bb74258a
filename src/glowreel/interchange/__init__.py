"""Promos in and out of open formats: OpenTimelineIO files and bundles."""
