"""Files and requests made to break, hang or drown the server: all by code, none of them ever let through by accident."""
