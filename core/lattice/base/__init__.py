"""What everything stands on: values, errors, draws, words, and the frame that all lanes share."""
