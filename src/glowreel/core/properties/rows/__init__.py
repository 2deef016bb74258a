"""The rows of the table of properties, a module for each heading of Details."""
