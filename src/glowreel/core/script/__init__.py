"""A promo from a script: lines with what each is for, drafted, read from a text, shortened, planned."""
