"""What the server's processes share: settings, turns, files and mails."""
