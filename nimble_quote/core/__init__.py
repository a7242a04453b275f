"""The rules and computation of the job: pure functions and models, with no files, SQL, HTTP, ffmpeg or clock."""
