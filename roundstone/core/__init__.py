"""The rules of the job: frozen values in, frozen values out. No files, no clock, no randomness of its own."""
