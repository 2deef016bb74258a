"""Random edits, by what they are about: rules of one machine that edits a promo at random."""
