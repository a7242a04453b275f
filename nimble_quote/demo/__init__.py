"""The demo: made-up talks of the harbour town of Skerry Sound."""
