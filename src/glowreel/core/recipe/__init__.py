"""Recipes: complete descriptions of one frame, or one span of sound, from which the engine draws and mixes.

Every number is decided here; the engine decides none. Equal recipes have equal hashes, which is how frames are cached.
"""
