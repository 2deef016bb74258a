"""The generator of the library: composes, synthesises, measures and writes it. Run by hand; what it made is shipped."""
