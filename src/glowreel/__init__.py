"""Glow Reel: one edit, every shape, the same picture in the preview and in the file."""
