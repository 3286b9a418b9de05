"""Assembly: whether produced pieces can be put together by straight moves, and in which order."""
