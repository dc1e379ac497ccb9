"""Tools that know nothing of the job: arrays, spans, errors, strict JSON, records, budgets."""
