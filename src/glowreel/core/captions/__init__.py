"""Captions: lanes, one for each language, whose cues are made by rule from the words that are heard."""
