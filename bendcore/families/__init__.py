"""How people describe a part. Each family reads its description and gives a Sheet."""
