"""Why a value is what it is: ledger, last word, causes, wiring, labels."""
