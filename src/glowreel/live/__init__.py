"""The asynchronous server of event streams: hundreds of open windows cost it nothing, and no request thread."""
