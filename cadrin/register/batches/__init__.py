"""One act on many cardholders: weighed before it begins, then done by the worker in short steps."""
