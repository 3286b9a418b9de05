"""Checks before cutting: interference, webs, bulb visibility and the forecast of joints."""
