"""Who may open what: groups, grants and memberships, and the rights that follow from them."""
