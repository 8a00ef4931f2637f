"""Assembly sheets as one HTML page to print, with everything in it: pictures, type, drawings over them."""

import base64
import html
from collections.abc import Sequence
from importlib import resources

from hinoki.present.sheets.sheet import Balloon, FaceSketch, Illustration, Panel, PieceRow, Sheet
from hinoki.present.sheets.sheet_pdf import spots

STYLE = """
@font-face{font-family:Hanken;font-weight:400;src:url(data:font/woff;base64,%(plain)s)}
@font-face{font-family:Hanken;font-weight:600;src:url(data:font/woff;base64,%(strong)s)}
@page{size:%(paper)s;margin:12mm}
*{box-sizing:border-box}
body{font:13px/1.4 Hanken,sans-serif;color:#2b2620;background:#fff;margin:0 auto;max-width:190mm;padding:6mm}
h1{font-size:28px;font-weight:600;margin:0}
h2{font-size:16px;font-weight:600;margin:6mm 0 2mm}
.under{color:#9a4a2b;font-size:15px;margin:1mm 0}
.soft{color:#6d6258}
.warn{color:#b3321f;font-weight:600}
.whole{max-width:130mm;margin:4mm auto}
.cols{display:grid;grid-template-columns:1fr 1fr;gap:8mm}
.cut{display:grid;grid-template-columns:repeat(auto-fill,minmax(40mm,1fr));gap:4mm}
.cut b{display:block}
.steps{display:grid;grid-template-columns:1fr 1fr;gap:6mm;break-before:page}
@media(max-width:620px){.steps,.cols{grid-template-columns:1fr}}
.step{border-top:1px solid #c8b795;padding-top:2mm;break-inside:avoid}
.step h3{font-size:14px;font-weight:600;margin:0;display:flex;gap:3mm;align-items:baseline}
.step h3 i{font-style:normal;font-size:26px;color:#9a4a2b;line-height:1}
.step h3 span{margin-left:auto;color:#9a4a2b;font-weight:400}
.step p{margin:1mm 0}
.need{color:#9a4a2b}
.row{display:flex;gap:3mm;align-items:flex-start}
.row>.art{flex:1}
.aside{width:26mm;font-size:10px}
.aside img{width:100%%}
.art{position:relative}
.art img{width:100%%;display:block}
.art svg{position:absolute;inset:0;width:100%%;height:100%%}
ul{padding-left:5mm;margin:0}
section+section{break-before:page;margin-top:10mm}
"""


def write_html(*sheets: Sheet) -> bytes:
    """The sheets as one page, one after the other; the first gives the title and the paper."""
    style = STYLE % {"plain": _font(400), "strong": _font(600), "paper": sheets[0].paper}
    head = (
        "<!doctype html><html lang=en><head><meta charset=utf-8><meta name=viewport content='width=device-width'>"
        f"<title>{_e(sheets[0].title)}: assembly</title><style>{style}</style></head><body>"
    )
    body = [line for sheet in sheets for line in ("<section>", *_body(sheet), "</section>")]
    return (head + "\n".join(body) + "</body></html>").encode()


def _body(sheet: Sheet) -> list[str]:
    return [
        f"<h1>{_e(sheet.title)}</h1><p class=under>{_e(sheet.under)}</p><p class=soft>{_e(' · '.join(sheet.facts))}</p>",
        *(f"<p class=warn>{_e(w)}</p>" for w in sheet.warns),
        f"<div class=whole>{_art(sheet.whole)}</div>",
        *(f"<p>{_e(g)}</p>" for g in sheet.groups),
        "<div class=cols><div><h2>Hardware</h2>",
        *(f"<p><b>{_e(count)}</b> {_e(name)}</p>" for count, name in sheet.hardware or [("", "none")]),
        "</div><div><h2>Tools</h2><ul>",
        *(f"<li>{_e(tool)}</li>" for tool in sheet.tools),
        "</ul></div></div><h2>Cut list</h2><div class=cut>",
        *(_row(row) for row in sheet.pieces),
        "</div><div class=steps>",
        *(_panel(panel) for panel in sheet.panels),
        "</div>",
    ]


def _e(text: str) -> str:
    return html.escape(text)


def _font(weight: int) -> str:
    path = resources.files("hinoki.data") / "fonts" / f"hanken-grotesk-latin-{weight}-normal.woff"
    return base64.b64encode(path.read_bytes()).decode()


def _image(content: bytes, kind: str) -> str:
    return f"data:image/{kind};base64,{base64.b64encode(content).decode()}"


def _art(illustration: Illustration, alt: str = "") -> str:
    """A picture with its strokes and balloons over it."""
    wide, high = 1000.0, 1000.0 * illustration.size[1] / illustration.size[0]
    drawn = [_stroke(kind, points, wide, high) for kind, points in illustration.strokes]
    drawn += [
        _balloon(b, at, wide, high)
        for b, at in zip(illustration.balloons, spots(illustration.balloons, wide / high), strict=True)
    ]
    over = f"<svg viewBox='0 0 {wide:.0f} {high:.0f}'>{''.join(drawn)}</svg>" if drawn else ""
    return f"<div class=art><img alt='{_e(alt)}' src='{_image(illustration.png, 'png')}'>{over}</div>"


def _stroke(kind: str, points: Sequence[tuple[float, float]], wide: float, high: float) -> str:
    at = [(x * wide, y * high) for x, y in points]
    line = " ".join(f"{x:.1f},{y:.1f}" for x, y in at)
    if kind == "guide":
        return f"<polyline points='{line}' fill=none stroke='#9a4a2b' stroke-width=2 stroke-dasharray='8 8'/>"
    (x0, y0), (x1, y1) = at[-2], at[-1]
    long = max(1e-9, ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5)
    dx, dy = (x1 - x0) / long, (y1 - y0) / long
    across = [(12.0, 0.0), (-16.0, 13.0), (-16.0, -13.0)]
    head = [(x1 + along * dx - side * dy, y1 + along * dy + side * dx) for along, side in across]
    tip = " ".join(f"{x:.1f},{y:.1f}" for x, y in head)
    return f"<polyline points='{line}' fill=none stroke='#9a4a2b' stroke-width=7/><polygon points='{tip}' fill='#9a4a2b'/>"


def _balloon(balloon: Balloon, spot: tuple[float, float], wide: float, high: float) -> str:
    ax, ay, bx, by = balloon.at[0] * wide, balloon.at[1] * high, spot[0] * wide, spot[1] * high
    half = max(27.0, 9.0 * len(balloon.text) + 12)
    return (
        f"<path d='M{ax:.1f} {ay:.1f}L{bx:.1f} {by:.1f}' stroke='#2b2620' stroke-width=2 />"
        f"<circle cx={ax:.1f} cy={ay:.1f} r=5 />"
        f"<rect x={bx - half:.1f} y={by - 27:.1f} width={2 * half:.1f} height=54 rx=27 "
        "fill='#fff' stroke='#2b2620' stroke-width=3 />"
        f"<text x={bx:.1f} y={by + 11:.1f} text-anchor=middle font-size=30 font-weight=600>{_e(balloon.text)}</text>"
    )


def _row(row: PieceRow) -> str:
    return (
        f"<div>{_art(row.picture, row.name)}<b>{_e(row.balloon)} {_e(row.name)}</b>"
        f"<span class=soft>{_e(row.size)}, {_e(row.mass)}</span></div>"
    )


def _panel(panel: Panel) -> str:
    group = f"<span>for {_e(panel.group)}</span>" if panel.group else ""
    aside = "".join(_face(f) for f in panel.faces)
    if panel.photo:
        aside += f"<img alt='photograph' src='{_image(panel.photo, 'jpeg')}'>"
    more = "".join(f"<p class=need>Needs {_e(n)}</p>" for n in panel.needs) + "".join(f"<p>{_e(s)}</p>" for s in panel.says)
    more += "".join(f"<p class=warn>{_e(w)}</p>" for w in panel.warns)
    if panel.note:
        more += f"<p><b>{_e(panel.note)}</b></p>"
    side = f"<div class=aside>{aside}</div>" if aside else ""
    return (
        f"<section class=step><h3><i>{panel.number}</i>{_e(panel.title)}{group}</h3><p>{_e(panel.how)}</p>"
        f"<div class=row>{_art(panel.picture, panel.title)}{side}</div>{more}</section>"
    )


def _face(sketch: FaceSketch) -> str:
    rings = [ring for polygon in sketch.outline for ring in polygon]
    xs, ys = [p[0] for r in rings for p in r], [p[1] for r in rings for p in r]
    if not xs:
        return ""
    wide, high = max(xs) - min(xs), max(ys) - min(ys)
    path = "".join("M" + "L".join(f"{x - min(xs):.2f} {max(ys) - y:.2f}" for x, y in r) + "Z" for r in rings)
    line = max(wide, high) / 120
    circles = "".join(
        f"<circle cx={x - min(xs):.2f} cy={max(ys) - y:.2f} r={r:.2f} fill=none stroke='#2b2620' stroke-width={line:.2f} />"
        f"<text x={x - min(xs):.2f} y={max(ys) - y + 0.35 * r:.2f} font-size={r:.2f} text-anchor=middle>{_e(pole)}</text>"
        for x, y, r, pole in sketch.poles
    )
    return (
        f"<svg viewBox='{-line:.2f} {-line:.2f} {wide + 2 * line:.2f} {high + 2 * line:.2f}' width='100%'>"
        f"<path d='{path}' fill=none stroke='#2b2620' stroke-width={line:.2f} />{circles}</svg><span>{_e(sketch.says)}</span>"
    )
