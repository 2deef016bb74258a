"""What is said: words with their times, which of them are heard in a promo as it is cut, and cutting by them."""
