"""The rules of the job: frozen values in, frozen values out. No files, no clock, no network, no randomness of its own."""
