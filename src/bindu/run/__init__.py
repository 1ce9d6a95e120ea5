"""Starting Bindu on one machine: its own MariaDB, then the server."""
