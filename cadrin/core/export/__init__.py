"""Lists of cardholders in open formats: CSV, XLSX, JSON and vCard."""
