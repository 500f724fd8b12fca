"""The rules of the work and every computation: plain Python, no request, no page, no clock, no database."""
