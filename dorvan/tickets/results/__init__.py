"""What a ticket's part comes to: worked out once for each content, and never stored."""
