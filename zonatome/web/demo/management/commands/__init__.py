"""Commands of the sample workroom."""
