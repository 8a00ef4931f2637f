"""The headers of every answer: what its page may load and who may show it."""

POLICY = {
    "default-src": "'none'",
    "script-src": "'self'",
    "style-src": "'self' 'unsafe-inline'",  # the components write their colours and sizes into the page
    "img-src": "'self' data: blob:",
    "font-src": "'self' data:",
    "connect-src": "'self'",
    "worker-src": "'self' blob:",
    "manifest-src": "'self'",
    "base-uri": "'none'",
    "form-action": "'self'",
    "frame-src": "'self'",  # the assembly sheets, seen beside the list of steps
    "frame-ancestors": "'self'",
}
HEADERS = {
    "Content-Security-Policy": "; ".join(f"{what} {whom}" for what, whom in POLICY.items()),
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "SAMEORIGIN",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
