"""Pixels and samples: decoding, drawing, mixing, encoding, measuring. Knows the core; knows no web and no database."""
