"""The job's rules: time, curves, paths, documents, edits, evaluation.

Pure Python with numpy and scipy; knows no web, database, file or clock.
"""
