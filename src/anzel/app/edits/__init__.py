"""Edits of a project: functions from one project to the next."""
