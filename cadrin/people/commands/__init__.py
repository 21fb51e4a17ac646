"""Write cardholders, and what they are put in: departments, companies, kinds, own fields."""
