"""Pictures made from words: the port through which the program asks a maker, and the made-up one that plays it."""
