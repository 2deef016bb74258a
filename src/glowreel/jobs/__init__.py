"""Celery: thin tasks, each of which calls one service."""
