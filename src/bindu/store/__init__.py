"""Scenes in MariaDB."""
