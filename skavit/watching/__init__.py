"""Monitoring: readiness, metrics, log lines."""
