"""Ready-made material: the port through which the program asks a catalogue, and the made-up one that plays it."""
