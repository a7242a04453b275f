"""What lives outside: a transcription service and the hosts that recordings are fetched from, each behind a small port."""
