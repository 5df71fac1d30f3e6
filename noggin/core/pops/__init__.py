"""What came out: frames and what was seen in them, what that says of light and gear, what went wrong,
and the one thing to change next."""
