"""Test pieces, one module a kind, and what trying them teaches."""
