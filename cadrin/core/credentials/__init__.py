"""What somebody may present to a reader: factors, and a folder for each kind of credential."""
