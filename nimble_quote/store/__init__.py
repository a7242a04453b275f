"""All that touches PostgreSQL: migrations, and plain SQL in one module for each family of tables.

Every function takes a connection and leaves the transaction to its caller.
"""
