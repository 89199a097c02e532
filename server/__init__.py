"""The Django server: people, studies, tables, comparisons; drawing through the core."""
