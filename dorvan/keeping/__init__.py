"""The shop's data as a whole: backup, restore, and what is said when nothing can be written."""
