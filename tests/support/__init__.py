"""What tests share: tables, ugly files, sheets, uploads, the worker."""
