"""The pages of a ticket: what each shows and takes."""
