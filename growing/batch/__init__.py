"""What is true of one batch, whoever asks: its accounts and its history, from the events written about it."""
