"""Long attacks on the promises of docs/trust.md: ``make campaign`` runs them whole, the tests a little of each."""
