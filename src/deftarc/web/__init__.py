"""The web application: FastAPI routes, view models, Jinja templates, and what they serve.

Routes parse, call one function, and answer; the rules are in the core.
"""
