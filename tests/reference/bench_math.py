# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""bench_math - reference calculations for a laser-marking bench (everything beside the marking physics).

Sections: C units+parsing, D set-up, E cost, F consistency+diagnosis, A compound, B transfer, G search surrogate.
Canonical units unless a name says otherwise: mm, mm/s, W, kHz, ns, J/mm2, degC, s, degrees, currency units.
Pure functions, no I/O, no global state.  Invalid input raises BenchError(code, message); code is the contract.
"""
from __future__ import annotations
import math, re, itertools
from dataclasses import dataclass, field, replace
from typing import Dict, List, Optional, Sequence, Tuple
import numpy as np

class BenchError(ValueError):
    """code is one of the strings listed in SPEC.md section 0."""
    def __init__(self, code: str, msg: str = ""):
        super().__init__(f"{code}: {msg}"); self.code = code

def _pos(**kw: float) -> None:
    for k, v in kw.items():
        if not (isinstance(v, (int, float)) and math.isfinite(v)): raise BenchError("NOT_A_NUMBER", k)
        if v <= 0: raise BenchError("NOT_POSITIVE", k)

def _nonneg(**kw: float) -> None:
    for k, v in kw.items():
        if not (isinstance(v, (int, float)) and math.isfinite(v)): raise BenchError("NOT_A_NUMBER", k)
        if v < 0: raise BenchError("NEGATIVE", k)

# ============================================================================ C. units and parsing
INCH = 25.4
LENGTH = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "um": 1e-3, "nm": 1e-6, "in": INCH, "thou": INCH / 1000}
SPEED = {"mm/s": 1.0, "cm/s": 10.0, "m/s": 1000.0, "mm/min": 1 / 60, "m/min": 1000 / 60, "in/s": INCH, "in/min": INCH / 60}
FREQ = {"Hz": 1e-3, "kHz": 1.0, "MHz": 1e3}
POWER = {"W": 1.0, "mW": 1e-3, "kW": 1e3}
TIME_NS = {"ns": 1.0, "ps": 1e-3, "fs": 1e-6, "us": 1e3, "ms": 1e6}
FLUENCE = {"J/mm2": 1.0, "J/cm2": 0.01, "mJ/mm2": 1e-3, "mJ/cm2": 1e-5}       # to J/mm2
LINES = {"lpi": 1 / INCH, "dpi": 1 / INCH, "l/cm": 0.1, "l/mm": 1.0}            # lines per mm
KINDS: Dict[str, Dict[str, float]] = {"length": LENGTH, "speed": SPEED, "frequency": FREQ, "power": POWER,
                                      "duration": TIME_NS, "fluence": FLUENCE, "pitch": {**LENGTH}, "percent": {"%": 1.0},
                                      "angle": {"deg": 1.0, "rad": 180 / math.pi}}
# plausible span of each kind on a bench (canonical units): used only to settle an ambiguous decimal sign
PLAUSIBLE = {"length": (1e-4, 2000.0), "speed": (0.05, 20000.0), "frequency": (0.05, 5000.0), "power": (0.01, 500.0),
             "duration": (1e-4, 1e6), "fluence": (1e-6, 100.0), "pitch": (5e-4, 2.0), "percent": (0.0, 100.0), "angle": (-360.0, 360.0)}
_ALIAS = {  # lower-case spelling -> unit; '' entries resolved elsewhere
    "mm": "mm", "millimetre": "mm", "millimeter": "mm", "millimetres": "mm", "millimeters": "mm", "cm": "cm", "m": "m",
    "um": "um", "\u00b5m": "um", "\u03bcm": "um", "micron": "um", "microns": "um", "micrometre": "um", "micrometer": "um", "nm": "nm",
    "in": "in", "inch": "in", "inches": "in", '"': "in", "\u2033": "in", "\u201d": "in", "thou": "thou", "thous": "thou", "mil": "thou", "mils": "thou",
    "mm/s": "mm/s", "mm/sec": "mm/s", "mms": "mm/s", "cm/s": "cm/s", "m/s": "m/s", "mm/min": "mm/min", "m/min": "m/min",
    "in/s": "in/s", "ips": "in/s", "in/sec": "in/s", "in/min": "in/min", "ipm": "in/min",
    "hz": "Hz", "khz": "kHz", "w": "W", "watt": "W", "watts": "W", "kw": "kW",
    "ns": "ns", "ps": "ps", "fs": "fs", "us": "us", "\u00b5s": "us", "\u03bcs": "us", "ms": "ms",
    "j/mm2": "J/mm2", "j/mm\u00b2": "J/mm2", "j/mm^2": "J/mm2", "j/cm2": "J/cm2", "j/cm\u00b2": "J/cm2", "j/cm^2": "J/cm2",
    "lpi": "lpi", "l/in": "lpi", "l/inch": "lpi", "lines/in": "lpi", "lines/inch": "lpi", "linesperinch": "lpi", "lines per inch": "lpi",
    "dpi": "dpi", "dots/inch": "dpi", "l/cm": "l/cm", "lpcm": "l/cm", "lines/cm": "l/cm", "lines per cm": "l/cm", "linespercm": "l/cm",
    "l/mm": "l/mm", "lines/mm": "l/mm", "lines per mm": "l/mm", "%": "%", "percent": "%", "pct": "%", "deg": "deg", "\u00b0": "deg", "rad": "rad"}
_CASED = {"mW": "mW", "MW": "MW", "MHz": "MHz", "mHz": "mHz", "mJ/cm2": "mJ/cm2", "mJ/mm2": "mJ/mm2", "mJ/cm\u00b2": "mJ/cm2", "mJ/mm\u00b2": "mJ/mm2"}

def convert(value: float, src: str, dst: str) -> float:
    """Linear conversion inside one kind, and lines-density <-> pitch (reciprocal)."""
    if not math.isfinite(value): raise BenchError("NOT_A_NUMBER")
    if src in LINES or dst in LINES:
        if src in LINES and dst in LINES: return value * LINES[src] / LINES[dst]
        if src in LINES and dst in LENGTH: _pos(value=value); return 1.0 / (value * LINES[src]) / LENGTH[dst]
        if src in LENGTH and dst in LINES: _pos(value=value); return 1.0 / (value * LENGTH[src]) / LINES[dst]
        raise BenchError("WRONG_KIND", f"{src}->{dst}")
    for kind, tab in KINDS.items():
        if kind == "pitch": continue
        if src in tab and dst in tab: return value * tab[src] / tab[dst]
    known = any(src in t for t in KINDS.values()) and any(dst in t for t in KINDS.values())
    raise BenchError("WRONG_KIND" if known else "UNKNOWN_UNIT", f"{src}->{dst}")

@dataclass(frozen=True)
class Parsed:
    value: float                       # canonical units of the kind (pitch in mm, percent of a kind already absolute)
    unit: str                          # unit understood
    warnings: Tuple[str, ...] = ()

def _num_candidates(s: str, decimal: str) -> List[Tuple[float, str]]:
    """Readings of a bare number text: [(value, 'decimal'|'thousands'|'plain')]; empty if malformed."""
    s = s.strip()
    s = re.sub(r"(?<=\d)[ \u00a0\u202f\u2009'](?=\d{3}(\D|$))", "", s)          # 1 500 / 1'500
    m = re.fullmatch(r"(?:(\d+)\s+)?(\d+)\s*/\s*(\d+)", s)                        # 1/4, 1 1/2
    if m:
        if int(m[3]) == 0: raise BenchError("NOT_A_NUMBER", "division by zero")
        return [((int(m[1]) if m[1] else 0) + int(m[2]) / int(m[3]), "plain")]
    sign = 1.0
    if s[:1] in "+-\u2212": sign = 1.0 if s[0] == "+" else -1.0; s = s[1:].strip()
    if re.fullmatch(r"\d+([eE][+-]?\d+)?", s): return [(sign * float(s), "plain")]
    c, p = s.count(","), s.count(".")
    if c and p:                                                                    # last one is the decimal sign
        dec, tho = (",", ".") if s.rfind(",") > s.rfind(".") else (".", ",")
        if s.count(dec) > 1 or not re.fullmatch(r"\d{1,3}(%s\d{3})+%s\d*" % (re.escape(tho), re.escape(dec)), s): return []
        return [(sign * float(s.replace(tho, "").replace(dec, ".")), "plain")]
    sep = "," if c else "."
    if c + p > 1:                                                                  # 1,500,000
        return [(sign * float(s.replace(sep, "")), "plain")] if re.fullmatch(r"\d{1,3}(%s\d{3})+" % re.escape(sep), s) else []
    if not re.fullmatch(r"(\d+[.,]\d*|[.,]\d+)([eE][+-]?\d+)?", s): return []
    as_dec = (sign * float(s.replace(",", ".")), "decimal")
    grouped = re.fullmatch(r"[1-9]\d{0,2}[.,]\d{3}", s) is not None
    if not grouped: return [as_dec]
    as_tho = (sign * float(s.replace(sep, "")), "thousands")
    if decimal == "point": return [as_dec] if sep == "." else [as_tho]
    if decimal == "comma": return [as_dec] if sep == "," else [as_tho]
    return [as_dec] if sep == "." else [as_dec, as_tho]                          # auto: only '1,500' is in doubt

def parse_quantity(text: str, kind: str, *, default_unit: Optional[str] = None, maximum: Optional[float] = None,
                   spot_mm: Optional[float] = None, decimal: str = "auto", lo: Optional[float] = None, hi: Optional[float] = None) -> Parsed:
    """What people type -> canonical value.  See SPEC C for every rule and error code."""
    if kind not in KINDS: raise BenchError("UNKNOWN_KIND", kind)
    t = (text or "").strip()
    if not t: raise BenchError("EMPTY")
    m = re.match(r"^([+\-\u2212]?\s*(?:\d+\s+\d+\s*/\s*\d+|\d+\s*/\s*\d+|[\d.,][\d.,\u00a0\u202f\u2009' ]*(?:[eE][+-]?\d+)?))\s*(.*)$", t)
    if not m: raise BenchError("NOT_A_NUMBER", t)
    num, unit_txt = m[1].strip(), re.sub(r"\s+", " ", m[2].strip()).rstrip(".")
    warn: List[str] = []
    if unit_txt in ("k", "K") and kind == "frequency": unit_txt = "kHz"; warn.append("ASSUMED_UNIT")
    if unit_txt == "":
        if default_unit is None: raise BenchError("NO_UNIT", t)
        unit = default_unit; warn.append("ASSUMED_UNIT")
    elif unit_txt in _CASED: unit = _CASED[unit_txt]
    elif unit_txt.lower() in _ALIAS: unit = _ALIAS[unit_txt.lower()]
    elif unit_txt.lower().replace(" ", "") in _ALIAS: unit = _ALIAS[unit_txt.lower().replace(" ", "")]
    elif unit_txt.lower() == "mhz": unit = "MHz"; warn.append("ASSUMED_UNIT")
    elif unit_txt.lower() == "ppi": raise BenchError("AMBIGUOUS_UNIT", "ppi: pulses or pixels per inch?")
    else: raise BenchError("UNKNOWN_UNIT", unit_txt)
    if unit in ("mHz", "MW"): unit = {"mHz": "MHz", "MW": "mW"}[unit]; warn.append("ASSUMED_UNIT")
    if unit_txt.lower() in ("mil", "mils"): warn.append("MIL_READ_AS_THOU")
    if kind == "pitch" and unit == "dpi": warn.append("DPI_READ_AS_LINES")
    cands = _num_candidates(num, decimal)
    if not cands or not all(math.isfinite(x) for x, _ in cands): raise BenchError("NOT_A_NUMBER", num)

    def canon(x: float) -> float:
        if unit == "%":
            if kind == "percent": return x
            if not 0 <= x <= 100: raise BenchError("OUT_OF_RANGE", "percent")
            if kind == "pitch":                                                   # percent of a pitch = overlap of lines
                if spot_mm is None: raise BenchError("NO_SPOT", "overlap needs a spot")
                if x >= 100: raise BenchError("OUT_OF_RANGE", "overlap 100%")
                return spot_mm * (1 - x / 100)
            if maximum is None: raise BenchError("NO_MAX", "percent needs the machine's maximum")
            return maximum * x / 100
        if kind == "pitch" and unit in LINES:
            if x <= 0: raise BenchError("NOT_POSITIVE", unit)
            return 1.0 / (x * LINES[unit])
        if unit not in KINDS[kind]: raise BenchError("WRONG_KIND", f"{unit} is not a {kind}")
        return x * KINDS[kind][unit]
    vals = [canon(x) for x, _ in cands]
    if len(vals) == 2:
        a, b = PLAUSIBLE[kind] if lo is None and hi is None else (lo if lo is not None else -math.inf, hi if hi is not None else math.inf)
        ok = [v for v in vals if a <= v <= b]
        if len(ok) != 1: raise BenchError("AMBIGUOUS_DECIMAL", t)
        vals = ok; warn.append("ASSUMED_DECIMAL")
    v = vals[0]
    if kind not in ("angle", "length", "percent") and v < 0: raise BenchError("NEGATIVE", t)
    if kind in ("pitch", "duration") and v == 0: raise BenchError("NOT_POSITIVE", t)
    if kind == "percent" and not 0 <= v <= 100: raise BenchError("OUT_OF_RANGE", t)
    if (lo is not None and v < lo - 1e-12) or (hi is not None and v > hi + 1e-12): raise BenchError("OUT_OF_RANGE", t)
    a, b = PLAUSIBLE[kind]
    if not a <= v <= b: warn.append("IMPLAUSIBLE")
    return Parsed(v, unit, tuple(warn))

def pct_to_abs(pct: float, maximum: float, table: Optional[Sequence[Tuple[float, float]]] = None) -> float:
    """Percent dialog value -> absolute.  table: measured (percent, absolute), strictly rising in both; else linear."""
    if not 0 <= pct <= 100: raise BenchError("OUT_OF_RANGE", "percent")
    if not table: _pos(maximum=maximum); return maximum * pct / 100
    xs, ys = _check_table(table)
    if not xs[0] <= pct <= xs[-1]: raise BenchError("OUT_OF_RANGE", "outside calibration table")
    return float(np.interp(pct, xs, ys))

def abs_to_pct(value: float, maximum: float, table: Optional[Sequence[Tuple[float, float]]] = None, step: float = 0.0) -> Tuple[float, float]:
    """-> (percent rounded to step, relative error of the realised absolute value)."""
    _pos(value=value)
    if table:
        xs, ys = _check_table(table)
        if not ys[0] <= value <= ys[-1]: raise BenchError("OUT_OF_RANGE", "outside calibration table")
        pct = float(np.interp(value, ys, xs))
    else:
        _pos(maximum=maximum); pct = 100 * value / maximum
        if pct > 100 * (1 + 1e-12): raise BenchError("OUT_OF_RANGE", "above maximum")
    if step > 0:
        pct = math.floor(pct / step + 0.5) * step
        pct = min(100.0, max(step, pct))
    return pct, pct_to_abs(min(pct, 100.0), maximum, table) / value - 1

def _check_table(table):
    xs, ys = [float(a) for a, _ in table], [float(b) for _, b in table]
    if len(xs) < 2 or any(b <= a for a, b in zip(xs, xs[1:])) or any(b <= a for a, b in zip(ys, ys[1:])):
        raise BenchError("BAD_TABLE", "need >=2 strictly rising points")
    return xs, ys

# ============================================================================ D. set-up
@dataclass(frozen=True)
class Beam:
    wavelength_um: float; m2: float; beam_mm: float; focal_mm: float    # beam_mm: 1/e2 diameter at the lens
    @property
    def spot_mm(self) -> float:
        """1/e2 focal diameter d0 = 4 M2 lambda f / (pi D)."""
        _pos(l=self.wavelength_um, m=self.m2, D=self.beam_mm, f=self.focal_mm)
        return 4 * self.m2 * self.wavelength_um * 1e-3 * self.focal_mm / (math.pi * self.beam_mm)
    @property
    def rayleigh_mm(self) -> float:
        """zR = pi d0^2 / (4 M2 lambda): diameter is sqrt2*d0 there."""
        return math.pi * self.spot_mm ** 2 / (4 * self.m2 * self.wavelength_um * 1e-3)

def beam_spot(wavelength_um: float, m2: float, beam_mm: float, focal_mm: float) -> Dict[str, float]:
    b = Beam(wavelength_um, m2, beam_mm, focal_mm); return {"spot_mm": b.spot_mm, "rayleigh_mm": b.rayleigh_mm}

def spot_at(d0: float, zr: float, z: float) -> float:
    _pos(d0=d0, zr=zr); return d0 * math.sqrt(1 + (z / zr) ** 2)

def depth_of_focus(zr: float, growth: float = 1.1) -> float:
    """Half depth: |z| for which the diameter stays <= growth*d0.  growth 1.1 -> 0.458 zR, sqrt2 -> zR."""
    _pos(zr=zr)
    if growth < 1: raise BenchError("OUT_OF_RANGE", "growth < 1")
    return zr * math.sqrt(growth * growth - 1)

def focus_offset(d0: float, zr: float, wanted: float, *, peak_power_w: float = 0.0, air_limit_w_cm2: float = 1e10) -> Dict[str, object]:
    """Offsets giving a wanted spot.  +z = lens raised (focus above the surface, diverging light);  -z = focus inside the part.
    prefer '+': a proud part gets a SMALLER spot on the + side and a larger one on the - side;  '-' only if the focus in air
    would exceed air_limit (dust sparks; engineering estimate)."""
    _pos(d0=d0, zr=zr, wanted=wanted)
    if wanted < d0 * (1 - 1e-9): raise BenchError("OUT_OF_RANGE", "wanted spot smaller than focus")
    z = zr * math.sqrt(max(0.0, (wanted / d0) ** 2 - 1))
    slope = 0.0 if z == 0 else d0 * z / zr ** 2 / math.sqrt(1 + (z / zr) ** 2)   # d(spot)/dz
    irr = 8 * peak_power_w / (math.pi * (d0 / 10) ** 2)                            # W/cm2 on axis
    return {"plus": z, "minus": -z, "spot_per_mm": slope, "prefer": "-" if irr > air_limit_w_cm2 else "+", "focus_irradiance_w_cm2": irr}

def shim_stack(target_mm: float, shims_mm: Sequence[float], tol_mm: float = 0.0, max_count: int = 99) -> Dict[str, object]:
    """0/1 subset sum in whole um.  Candidates: |error| <= max(best error, tol).  Among them: fewest, then smallest |error|, then
    the lower stack.  Equal sum and count: keep the first found with shims taken thickest first (deterministic)."""
    _nonneg(target=target_mm, tol=tol_mm)
    t = round(target_mm * 1000); s = sorted((round(x * 1000) for x in shims_mm), reverse=True)
    if any(x <= 0 for x in s): raise BenchError("NOT_POSITIVE", "shim")
    best: Dict[int, Tuple[int, ...]] = {0: ()}
    for x in s:
        for total, used in list(best.items()):
            if len(used) >= max_count or total > t: continue                       # anything above t never needs more
            n = total + x
            if n not in best or len(used) + 1 < len(best[n]): best[n] = used + (x,)
    emin = min(abs(k - t) for k in best); lim = max(emin, round(tol_mm * 1000))
    key = lambda kv: (len(kv[1]), abs(kv[0] - t), kv[0])
    total, used = min(((k, u) for k, u in best.items() if abs(k - t) <= lim), key=key)
    return {"stack_mm": [x / 1000 for x in used], "sum_mm": total / 1000, "error_mm": (total - t) / 1000}

def column_fit(working_mm: float, part_mm: float, h_min: float, h_max: float, *, fixture_mm: float = 0.0, rotary_centre_mm: float = 0.0,
               offset_mm: float = 0.0, obstruction_mm: float = 0.0, clearance_mm: float = 5.0) -> Dict[str, object]:
    """Lens-face height over the table H = surface height + working distance + focus offset.
    Surface: flat = fixture + part height;  rotary (rotary_centre>0) = fixture + centre height + part DIAMETER/2."""
    _pos(working=working_mm, h_max=h_max); _nonneg(part=part_mm, h_min=h_min, fixture=fixture_mm, centre=rotary_centre_mm, obs=obstruction_mm)
    if h_max <= h_min: raise BenchError("OUT_OF_RANGE", "column limits")
    surf = fixture_mm + (rotary_centre_mm + part_mm / 2 if rotary_centre_mm > 0 else part_mm)
    h = surf + working_mm + offset_mm
    riser = max(0.0, h_min - h)
    out = {"surface_mm": surf, "column_mm": h, "fits": h_min <= h <= h_max, "riser_mm": riser, "short_by_mm": max(0.0, h - h_max),
           "air_gap_mm": h - max(surf, obstruction_mm)}
    if riser > 0: out["fits_with_riser"] = True
    if out["air_gap_mm"] < clearance_mm: out["fits"] = False; out["collision"] = True
    return out

@dataclass(frozen=True)
class Lens:
    name: str; working_mm: float; field_mm: float; spot_mm: float; rayleigh_mm: float

def choose_lens(lenses: Sequence[Lens], part: Tuple[float, float], spot_max: float, part_mm: float, h_min: float, h_max: float, *, margin: float = 0.0, z_half_needed: float = 0.0, growth: float = 1.1, **column) -> List[Dict[str, object]]:
    """All lenses, usable first, then smallest field that does the job (smallest spot ties).  reasons: COLUMN, COLLISION, NEEDS_RISER, FIELD, SPOT, DEPTH."""
    rows = []
    for l in lenses:
        c = column_fit(l.working_mm, part_mm, h_min, h_max, **column); why = []
        if c.get("collision"): why.append("COLLISION")
        if c["short_by_mm"] > 0: why.append("COLUMN")
        if not rect_in_square(part[0], part[1], l.field_mm, margin)["fits"]: why.append("FIELD")
        if l.spot_mm > spot_max: why.append("SPOT")
        if depth_of_focus(l.rayleigh_mm, growth) < z_half_needed: why.append("DEPTH")
        note = ["NEEDS_RISER"] if c["riser_mm"] > 0 else []
        rows.append({"lens": l.name, "ok": not why, "reasons": why + note, "column_mm": c["column_mm"], "riser_mm": c["riser_mm"]})
    size = {l.name: (l.field_mm, l.spot_mm) for l in lenses}
    return sorted(rows, key=lambda r: (not r["ok"], len(r["reasons"]), size[r["lens"]]))

def rect_in_square(length: float, width: float, field_mm: float, margin: float = 0.0, circle_mm: float = 0.0) -> Dict[str, float | bool]:
    """Part L x W in a square field.  Fits iff max(L,W) <= s or L+W <= sqrt2*s, s = field - 2 margin (proof in SPEC D5)."""
    _pos(length=length, width=width, field=field_mm); _nonneg(margin=margin, circle=circle_mm)
    L, W = max(length, width), min(length, width); s = field_mm - 2 * margin
    if s <= 0: raise BenchError("OUT_OF_RANGE", "margin eats the field")
    diag = math.hypot(L, W); circ_ok = circle_mm <= 0 or diag <= circle_mm
    if L <= s: a_min, a_max, fits, slack = 0.0, 90.0, True, (s - L) / 2
    elif L + W <= math.sqrt(2) * s * (1 + 1e-12):
        a_min = math.degrees(math.atan2(W, L) + math.acos(min(1.0, s / diag))); a_min = min(a_min, 45.0)
        a_max, fits, slack = 90 - a_min, True, (s - (L + W) / math.sqrt(2)) / 2
    else: a_min = a_max = 45.0; fits = False; slack = (s - min(L, (L + W) / math.sqrt(2))) / 2
    angle = 0.0 if L <= s else 45.0
    return {"fits": fits and circ_ok, "angle_deg": angle, "angle_min_deg": a_min, "angle_max_deg": a_max, "slack_mm": slack,
            "longest_at_this_width_mm": max(s if W <= s else 0.0, math.sqrt(2) * s - W), "circle_ok": circ_ok}

def largest_rect(aspect: float, field_mm: float, margin: float = 0.0) -> Tuple[float, float, float]:
    """aspect = short/long in (0,1].  -> (long, short, angle).  Turned to 45 deg wins iff aspect < sqrt2-1."""
    if not 0 < aspect <= 1: raise BenchError("OUT_OF_RANGE", "aspect")
    s = field_mm - 2 * margin
    if s <= 0: raise BenchError("OUT_OF_RANGE", "margin eats the field")
    turned = math.sqrt(2) * s / (1 + aspect)
    return (turned, turned * aspect, 45.0) if turned > s else (s, s * aspect, 0.0)

def field_edge_spot(d0: float, zr: float, focal: float, r: float, r_max: float, *, tele: float = 1.0, curvature_mm: float = 0.0, offset: float = 0.0) -> Dict[str, float]:
    """f-theta: theta = r/focal.  Landing angle = tele*theta (0 = telecentric).  Field-curvature error curvature_mm*(r/r_max)^2.
    radial = d(z)/(cos theta * cos landing) (pupil foreshortened, then oblique), tangential = d(z)."""
    _pos(focal=focal, r_max=r_max); _nonneg(r=r, tele=tele)
    th = r / focal
    if th > 0.6: raise BenchError("OUT_OF_RANGE", "scan angle > 34 deg")
    z = offset + curvature_mm * (r / r_max) ** 2; d = spot_at(d0, zr, z)
    rad = d / (math.cos(th) * math.cos(tele * th)); base = spot_at(d0, zr, offset)
    return {"angle_deg": math.degrees(th), "tangential_mm": d, "radial_mm": rad, "focus_error_mm": z - offset,
            "area_ratio": rad * d / base ** 2, "fluence_ratio": base ** 2 / (rad * d)}

def level_error(span_mm: float, z_half: float, *, tilt_deg: Optional[float] = None, rise_mm: Optional[float] = None) -> Dict[str, float | bool]:
    """Focus set at the middle of the span; ends err by +-rise/2.  Give tilt or the rise over the span."""
    _pos(span=span_mm, z_half=z_half)
    if (tilt_deg is None) == (rise_mm is None): raise BenchError("BAD_INPUT", "give tilt or rise")
    rise = span_mm * math.tan(math.radians(abs(tilt_deg))) if tilt_deg is not None else abs(rise_mm)
    return {"end_error_mm": rise / 2, "tilt_deg": math.degrees(math.atan2(rise, span_mm)), "ok": rise / 2 <= z_half,
            "allowed_tilt_deg": math.degrees(math.atan2(2 * z_half, span_mm)), "allowed_rise_mm": 2 * z_half}

def sag(radius: float, chord: float) -> float:
    """R - sqrt(R^2-(c/2)^2), written without cancellation."""
    _pos(radius=radius); _nonneg(chord=chord)
    if chord > 2 * radius * (1 + 1e-12): raise BenchError("OUT_OF_RANGE", "chord > diameter")
    h = min(chord / 2, radius); return h * h / (radius + math.sqrt(max(0.0, radius * radius - h * h)))

def cylinder_split(diameter: float, arc_mm: float, pitch: float, z_half: float, *, focus: str = "mid", max_angle_deg: float = 25.0,
                   steps_per_rev: float = 0.0, keep_pitch: bool = False, taper_range: float = 0.0) -> Dict[str, object]:
    """Split the marking of an arc (<= pi D) into strips, hatch lines ALONG the axis, whole lines per strip.
    focus 'mid': sag+taper <= 2 z_half;  'top': sag+taper <= z_half."""
    _pos(diameter=diameter, arc=arc_mm, pitch=pitch, z_half=z_half); _nonneg(taper=taper_range)
    R = diameter / 2; wrap = math.pi * diameter
    if arc_mm > wrap * (1 + 1e-9): raise BenchError("OUT_OF_RANGE", "arc > circumference")
    if focus not in ("mid", "top"): raise BenchError("BAD_INPUT", "focus")
    budget = (2 if focus == "mid" else 1) * z_half - taper_range
    if budget <= 0: raise BenchError("NO_BUDGET", "taper uses the whole depth of focus: shorten the band or tilt the rotary")
    s = min(budget, R); chord = 2 * math.sqrt(max(0.0, 2 * R * s - s * s)); half = math.asin(min(1.0, chord / (2 * R)))
    limit = "focus"
    if half > math.radians(max_angle_deg): half = math.radians(max_angle_deg); limit = "angle"
    a_max = 2 * R * half
    if a_max < pitch: raise BenchError("PITCH_TOO_COARSE", "one line is wider than a strip")
    if keep_pitch:
        lines = max(1, math.floor(arc_mm / pitch + 0.5)); kmax = math.floor(a_max / pitch + 1e-9)
        n = math.ceil(lines / kmax); k = math.ceil(lines / n); p = pitch; last = lines - (n - 1) * k
        while last <= 0: n -= 1; last = lines - (n - 1) * k
    else:
        n = math.ceil(arc_mm / a_max - 1e-9); k = max(1, math.floor(arc_mm / (n * pitch) + 0.5)); lines = n * k; last = k; p = arc_mm / lines
    strip = k * p; ang = math.degrees(strip / R); c = 2 * R * math.sin(min(math.pi, strip / R) / 2)
    out: Dict[str, object] = {"strips": n, "lines_per_strip": k, "last_strip_lines": last, "lines": lines, "pitch_mm": p, "pitch_change": p / pitch - 1,
        "strip_arc_mm": strip, "strip_max_mm": a_max, "limit": limit, "strip_angle_deg": ang, "sag_mm": sag(R, min(c, 2 * R)), "wrap_mm": wrap,
        "edge_angle_deg": ang / 2, "edge_pitch_growth": 1 / math.cos(math.radians(ang / 2)), "seam_mm": lines * p - arc_mm}
    if steps_per_rev > 0:
        st = steps_per_rev * strip / wrap
        out.update(steps_per_degree=steps_per_rev / 360, steps_per_strip=st, step_mm=wrap / steps_per_rev,
                   relative_move_drift_mm=(math.floor(st + 0.5) - st) * n * wrap / steps_per_rev, absolute_move_error_mm=0.5 * wrap / steps_per_rev)
    return out

def rotary_steps(steps_per_motor_rev: float, microsteps: float, gear: float = 1.0, *, roller_mm: float = 0.0, part_mm: float = 0.0) -> Dict[str, float]:
    """Chuck: steps/rev = motor*micro*gear.  Roller drive: part turns roller/part as far -> multiply by part/roller."""
    _pos(s=steps_per_motor_rev, m=microsteps, g=gear); r = steps_per_motor_rev * microsteps * gear
    if roller_mm > 0: _pos(part=part_mm); r *= part_mm / roller_mm
    return {"steps_per_rev": r, "steps_per_degree": r / 360}

def seam_from_diameter_error(d_true: float, d_used: float) -> float:
    """+ = overlap, - = gap, when a full wrap is drawn for d_used on d_true by a chuck driven in mm (arc length)."""
    _pos(a=d_true, b=d_used); return math.pi * (d_used - d_true)

def cone_band(d_small: float, d_large: float, axial_mm: float, *, band_start: float, band_mm: float, z_half: float, tilted: bool = False) -> Dict[str, float | bool]:
    """Band measured along the axis from the small end.  Level axis: ends err +-(b/2) tan(alpha) about the band's centre.
    Rotary tilted by alpha: surface line is level, error 0; curvature radius there = R/cos(alpha)."""
    _pos(d_small=d_small, axial=axial_mm, band=band_mm, z_half=z_half); _nonneg(start=band_start)
    if d_large < d_small: raise BenchError("BAD_INPUT", "d_large < d_small")
    if band_start + band_mm > axial_mm * (1 + 1e-9): raise BenchError("OUT_OF_RANGE", "band leaves the cone")
    k = (d_large - d_small) / axial_mm; al = math.atan(k / 2); dc = d_small + k * (band_start + band_mm / 2)
    err = 0.0 if tilted else band_mm / 2 * math.tan(al)
    return {"half_angle_deg": math.degrees(al), "centre_diameter_mm": dc, "end_error_mm": err, "taper_range_mm": 2 * err, "ok": err <= z_half,
            "slant_mm": band_mm / math.cos(al), "curvature_diameter_mm": dc / math.cos(al) if tilted else dc,
            "max_band_level_mm": math.inf if al == 0 else 2 * z_half / math.tan(al), "pitch_spread": k * band_mm / 2 / dc,
            "sector_deg": 360 * math.sin(al), "sector_radius_mm": math.inf if al == 0 else dc / 2 / math.sin(al)}

def tray_layout(tray: Tuple[float, float], part: Tuple[float, float], gap: float, margin: float, *, mark_s: float, jump_s: float = 0.3, fixed_load_s: float = 20.0,
                load_s: float = 3.0, swap_s: float = 8.0, trays: int = 1, shift_h: float = 8.0, availability: float = 0.85) -> Dict[str, object]:
    """One tray in the field.  trays=1: cycle = mark + load + swap (serial);  >=2: cycle = max(mark, load) + swap."""
    _pos(a=tray[0], b=tray[1], c=part[0], d=part[1], mark=mark_s, shift=shift_h); _nonneg(gap=gap, margin=margin)
    if not 0 < availability <= 1: raise BenchError("OUT_OF_RANGE", "availability")
    def n(L: float, w: float) -> int: return max(0, math.floor((L - 2 * margin + gap) / (w + gap) + 1e-9))
    a = (n(tray[0], part[0]), n(tray[1], part[1])); b = (n(tray[0], part[1]), n(tray[1], part[0]))
    turned = b[0] * b[1] > a[0] * a[1]; nx, ny = b if turned else a; parts = nx * ny
    if parts == 0: raise BenchError("DOES_NOT_FIT", "no part fits the tray")
    px, py = ((part[1], part[0]) if turned else part); mark = parts * (mark_s + jump_s); load = fixed_load_s + parts * load_s
    cycle = (mark + load if trays == 1 else max(mark, load)) + swap_s
    t = math.floor(shift_h * 3600 * availability / cycle)
    return {"nx": nx, "ny": ny, "parts": parts, "turned": turned, "pitch_x_mm": px + gap, "pitch_y_mm": py + gap,
            "first_x_mm": (tray[0] - (nx - 1) * (px + gap)) / 2, "first_y_mm": (tray[1] - (ny - 1) * (py + gap)) / 2,
            "mark_s": mark, "load_s": load, "cycle_s": cycle, "trays_per_shift": t, "parts_per_shift": t * parts,
            "laser_use": mark / cycle, "bound": "serial" if trays == 1 else ("load" if load > mark else "mark")}

# ============================================================================ E. cost and price
@dataclass(frozen=True)
class Job:
    machine_rate_h: float; operator_rate_h: float
    mark_s: float; handling_s: float          # per started part; handling = load, unload, inspect, clean
    setup_min: float = 20.0; proof_min: float = 0.0; proof_blanks: int = 0
    blank: float = 0.0; consumable: float = 0.0; scrap: float = 0.0        # scrap = fraction of started parts lost
    attend: float = 1.0                        # share of marking time the operator cannot do other work
    fixed: float = 0.0                         # jig, artwork

def job_cost(job: Job, qty: int) -> Dict[str, float]:
    """Cost for qty GOOD parts.  started = ceil(qty/(1-scrap)).  Set-up and proofing (time AND blanks) are spread over qty."""
    if qty < 1 or int(qty) != qty: raise BenchError("NOT_POSITIVE", "qty")
    if not 0 <= job.scrap < 1: raise BenchError("OUT_OF_RANGE", "scrap")
    if not 0 <= job.attend <= 1: raise BenchError("OUT_OF_RANGE", "attend")
    _nonneg(a=job.machine_rate_h, b=job.operator_rate_h, c=job.mark_s, d=job.handling_s, e=job.setup_min, f=job.proof_min, g=job.proof_blanks, h=job.blank, i=job.consumable, j=job.fixed)
    started = math.ceil(qty / (1 - job.scrap) - 1e-9)
    mach_h = started * (job.mark_s) / 3600 + (job.setup_min + job.proof_min) / 60
    op_h = started * (job.attend * job.mark_s + job.handling_s) / 3600 + (job.setup_min + job.proof_min) / 60
    machine, operator = mach_h * job.machine_rate_h, op_h * job.operator_rate_h
    material = (started + job.proof_blanks) * (job.blank + job.consumable)
    once = job.fixed + (job.setup_min + job.proof_min) / 60 * (job.machine_rate_h + job.operator_rate_h) + job.proof_blanks * (job.blank + job.consumable)
    total = machine + operator + material + job.fixed
    return {"started": started, "machine": machine, "operator": operator, "material": material, "one_off": once, "total": total, "unit": total / qty, "one_off_per_part": once / qty}

def price(cost: float, margin: float, *, step: float = 0.0) -> float:
    """margin is a share of the PRICE (0.4 -> price = cost/0.6); mark-up u = m/(1-m).  Rounded UP to step."""
    _nonneg(cost=cost)
    if not 0 <= margin < 1: raise BenchError("OUT_OF_RANGE", "margin")
    p = cost / (1 - margin); return math.ceil(p / step - 1e-9) * step if step > 0 else p

def quantity_breaks(job: Job, quantities: Sequence[int], margin: float, *, step: float = 0.01) -> List[Dict[str, float]]:
    """Unit price per tier, forced non-increasing;  'cheaper_from': smallest quantity at which ordering this tier costs no more."""
    q = sorted(set(int(x) for x in quantities)); rows: List[Dict[str, float]] = []
    for x in q:
        u = price(job_cost(job, x)["unit"], margin, step=step)
        if rows: u = min(u, rows[-1]["unit_price"])
        rows.append({"qty": x, "unit_price": u, "total": u * x, "cheaper_from": float(x)})
    for a, b in zip(rows, rows[1:]): b["cheaper_from"] = min(float(b["qty"]), max(float(a["qty"]), math.ceil(b["total"] / a["unit_price"] - 1e-9)))
    return rows

def break_even(fixed_a: float, var_a: float, fixed_b: float, var_b: float) -> Dict[str, object]:
    """Cost lines F + v N of two methods.  -> crossing piece count (None if the lines do not cross at N > 0), winner below and above."""
    _nonneg(fa=fixed_a, va=var_a, fb=fixed_b, vb=var_b)
    df, dv = fixed_b - fixed_a, var_a - var_b                     # B wins when N*dv > df
    lo = "A" if df > 0 or (df == 0 and dv <= 0) else "B"
    if dv == 0: return {"pieces": None, "below": lo, "above": lo}
    n = df / dv
    if n <= 0: w = "B" if dv > 0 else "A"; return {"pieces": None, "below": w, "above": w}
    return {"pieces": n, "below": lo, "above": "B" if dv > 0 else "A"}

# ============================================================================ F. consistency
def delta_e00(lab1, lab2, kL: float = 1.0, kC: float = 1.0, kH: float = 1.0):
    """CIEDE2000; accepts (...,3) arrays, broadcasts.  Formula in SPEC F1."""
    a, b = np.asarray(lab1, float), np.asarray(lab2, float)
    L1, a1, b1 = a[..., 0], a[..., 1], a[..., 2]; L2, a2, b2 = b[..., 0], b[..., 1], b[..., 2]
    c7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    G = 0.5 * (1 - np.sqrt(c7 / (c7 + 25.0 ** 7)))
    ap1, ap2 = (1 + G) * a1, (1 + G) * a2
    C1, C2 = np.hypot(ap1, b1), np.hypot(ap2, b2)
    h1 = np.where(C1 == 0, 0.0, np.degrees(np.arctan2(b1, ap1)) % 360); h2 = np.where(C2 == 0, 0.0, np.degrees(np.arctan2(b2, ap2)) % 360)
    zero = C1 * C2 == 0
    e = 1e-9   # opposite hues: rounding must not flip the branch (pair 14)
    dh = h2 - h1; dh = np.where(dh > 180 + e, dh - 360, np.where(dh < -180 - e, dh + 360, dh)); dh = np.where(zero, 0.0, dh)
    dL, dC = L2 - L1, C2 - C1; dH = 2 * np.sqrt(C1 * C2) * np.sin(np.radians(dh / 2))
    Lm, Cm = (L1 + L2) / 2, (C1 + C2) / 2; hs = h1 + h2
    hm = np.where(np.abs(h1 - h2) <= 180 + e, hs / 2, np.where(hs < 360, (hs + 360) / 2, (hs - 360) / 2)); hm = np.where(zero, hs, hm)
    T = 1 - 0.17 * np.cos(np.radians(hm - 30)) + 0.24 * np.cos(np.radians(2 * hm)) + 0.32 * np.cos(np.radians(3 * hm + 6)) - 0.20 * np.cos(np.radians(4 * hm - 63))
    cm7 = Cm ** 7; RC = 2 * np.sqrt(cm7 / (cm7 + 25.0 ** 7)); dth = 30 * np.exp(-(((hm - 275) / 25) ** 2))
    SL = 1 + 0.015 * (Lm - 50) ** 2 / np.sqrt(20 + (Lm - 50) ** 2); SC = 1 + 0.045 * Cm; SH = 1 + 0.015 * Cm * T
    RT = -np.sin(np.radians(2 * dth)) * RC
    l, c, h = dL / (kL * SL), dC / (kC * SC), dH / (kH * SH)
    r = np.sqrt(np.maximum(0.0, l * l + c * c + h * h + RT * c * h))
    return float(r) if r.ndim == 0 else r

def lab_summary(labs: Sequence[Sequence[float]], ref: Sequence[float]) -> Dict[str, object]:
    """Mean, s (n-1), MCDM = mean dE00 of readings to their mean, dE00 of the mean to ref, worst reading to ref."""
    x = np.asarray(labs, float)
    if x.ndim != 2 or x.shape[1] != 3 or len(x) < 2: raise BenchError("TOO_FEW", "need >= 2 Lab readings")
    m = x.mean(0); d = delta_e00(x, np.asarray(ref, float))
    return {"mean": m.tolist(), "s": x.std(0, ddof=1).tolist(), "mcdm": float(np.mean(delta_e00(x, m))), "de_mean_to_ref": delta_e00(m, ref), "de_worst": float(d.max())}

def imr_chart(x: Sequence[float]) -> Dict[str, float]:
    """Individuals and moving range: sigma = MRbar/1.128, limits mean +- 2.660 MRbar, MR upper limit 3.267 MRbar."""
    v = np.asarray(x, float)
    if len(v) < 3: raise BenchError("TOO_FEW", "need >= 3")
    mr = float(np.abs(np.diff(v)).mean()); m = float(v.mean())
    return {"mean": m, "mr_bar": mr, "sigma": mr / 1.128, "lcl": m - 2.66 * mr, "ucl": m + 2.66 * mr, "mr_ucl": 3.267 * mr}

def western_electric(x: Sequence[float], mean: float, sigma: float) -> List[Tuple[int, int]]:
    """[(index of the point that completes the rule, rule 1..4)].  1: one beyond 3s; 2: 2 of 3 beyond 2s; 3: 4 of 5 beyond 1s;
    4: 8 in a row on one side.  Same side always; strictly beyond; the completing point must itself qualify; rule 4: a point on the mean breaks the run."""
    _pos(sigma=sigma); z = [(v - mean) / sigma for v in x]; out = []
    for i in range(len(z)):
        for sgn in (1, -1):
            y = [sgn * q for q in z[:i + 1]]
            if y[i] > 3: out.append((i, 1))
            if y[i] > 2 and sum(q > 2 for q in y[max(0, i - 2):]) >= 2: out.append((i, 2))
            if y[i] > 1 and sum(q > 1 for q in y[max(0, i - 4):]) >= 4: out.append((i, 3))
            if i >= 7 and all(q > 0 for q in y[i - 7:]): out.append((i, 4))
    return out

def drift_call(x: Sequence[float], mean: float, sigma: float, limit: float) -> Dict[str, object]:
    """State from rules + slope t-test.  'stop': rule 1, or projected to leave +-limit of the mean within 5 more pieces with |t|>3;
    'drift': rules 2-4 at the last point or |t|>3;  'watch': any older rule; 'steady'."""
    n = len(x); hits = western_electric(x, mean, sigma); slope = t = 0.0
    if n >= 6:
        i = np.arange(n) - (n - 1) / 2; sxx = float((i * i).sum()); slope = float((i * np.asarray(x)).sum() / sxx)
        r = np.asarray(x) - np.mean(x) - slope * i; se = math.sqrt(max(1e-300, float((r * r).sum()) / (n - 2) / sxx)); t = slope / se
    proj = float(np.mean(x)) + slope * ((n - 1) / 2 + 5) - mean
    last = {r for k, r in hits if k == n - 1}
    state = ("stop" if 1 in last or (abs(t) > 3 and abs(proj) > limit) else "drift" if last or abs(t) > 3 else "watch" if hits else "steady")
    return {"state": state, "slope": slope, "t": t, "projected": proj, "rules": sorted(last)}

def cpk(mean: float, sigma: float, n: int, lsl: Optional[float] = None, usl: Optional[float] = None, z: float = 1.645) -> Dict[str, float]:
    """Cpk and its approximate one-sided lower bound Cpk - z sqrt(1/(9n) + Cpk^2/(2(n-1))).  One-sided if a limit is None."""
    _pos(sigma=sigma)
    if n < 2: raise BenchError("TOO_FEW")
    if lsl is None and usl is None: raise BenchError("BAD_INPUT", "no limit")
    if lsl is not None and usl is not None and usl <= lsl: raise BenchError("BAD_INPUT", "usl <= lsl")
    c = min(([(usl - mean) / (3 * sigma)] if usl is not None else []) + ([(mean - lsl) / (3 * sigma)] if lsl is not None else []))
    out = {"cpk": c, "lower": c - z * math.sqrt(1 / (9 * n) + c * c / (2 * (n - 1)))}
    if lsl is not None and usl is not None: out["cp"] = (usl - lsl) / (6 * sigma)
    return out

def norm_ppf(p: float) -> float:
    """Inverse normal by Newton on erfc from a rational start (Abramowitz-Stegun 26.2.23); full double accuracy."""
    if not 0 < p < 1: raise BenchError("OUT_OF_RANGE", "probability")
    if p > 0.5: return -norm_ppf(1 - p)
    t = math.sqrt(-2 * math.log(p)); x = -(t - (2.515517 + 0.802853 * t + 0.010328 * t * t) / (1 + 1.432788 * t + 0.189269 * t * t + 0.001308 * t ** 3))
    for _ in range(4): x -= (0.5 * math.erfc(-x / math.sqrt(2)) - p) / (math.exp(-x * x / 2) / math.sqrt(2 * math.pi))
    return x

def t_ppf(p: float, dof: int) -> float:
    """Inverse Student t by bisection on a Simpson-integrated density (reference; C++ may use any exact method, tol 1e-6)."""
    if dof < 1: raise BenchError("TOO_FEW")
    if p < 0.5: return -t_ppf(1 - p, dof)
    c = math.exp(math.lgamma((dof + 1) / 2) - math.lgamma(dof / 2)) / math.sqrt(dof * math.pi)
    def cdf(x: float) -> float:                 # substitute x = sqrt(dof) tan(u): density becomes cos^(dof-1)
        u = math.atan(x / math.sqrt(dof)); m = 400; h = u / m
        f = lambda q: math.cos(q) ** (dof - 1)
        return 0.5 + c * math.sqrt(dof) * h / 3 * (f(0) + f(u) + 4 * sum(f(h * k) for k in range(1, m, 2)) + 2 * sum(f(h * k) for k in range(2, m, 2)))
    lo, hi = 0.0, 1e6
    for _ in range(200):
        mid = (lo + hi) / 2; lo, hi = (mid, hi) if cdf(mid) < p else (lo, mid)
        if hi - lo < 1e-11 * max(1, hi): break
    return (lo + hi) / 2

def repeats_for_mean(sigma: float, half_width: float, confidence: float = 0.95, known_sigma: bool = False) -> int:
    """Smallest n with q*sigma/sqrt(n) <= half_width; q = z (sigma known) or t_{n-1} (sigma estimated)."""
    _pos(s=sigma, h=half_width)
    if not 0 < confidence < 1: raise BenchError("OUT_OF_RANGE", "confidence")
    z = norm_ppf(0.5 + confidence / 2); n = max(1 if known_sigma else 2, math.ceil((z * sigma / half_width) ** 2 - 1e-9))
    if known_sigma: return n
    while t_ppf(0.5 + confidence / 2, n - 1) * sigma / math.sqrt(n) > half_width: n += 1
    return n

def repeats_for_shift(sigma: float, shift: float, confidence: float = 0.95, power: float = 0.9) -> int:
    """Mean of n against a fixed reference (two-sided): n = ((z_{1-a/2}+z_power) sigma/shift)^2, rounded up."""
    _pos(s=sigma, d=shift); return max(1, math.ceil(((norm_ppf(0.5 + confidence / 2) + norm_ppf(power)) * sigma / shift) ** 2 - 1e-9))

def repeats_all_good(reliability: float, confidence: float) -> int:
    """Consecutive good pieces (none bad) to state 'at least reliability good' with confidence: ln(1-C)/ln(R)."""
    if not (0 < reliability < 1 and 0 < confidence < 1): raise BenchError("OUT_OF_RANGE")
    return math.ceil(math.log(1 - confidence) / math.log(reliability) - 1e-9)

def diagnose(J: Sequence[Sequence[float]], prior_sd: Sequence[float], y: Sequence[float], noise_sd: Sequence[float],
             names: Sequence[str], prior_p: Optional[Sequence[float]] = None) -> Dict[str, object]:
    """Symptoms y (outcome minus reference) = J x + e.  x_i ~ N(0, prior_sd_i^2), e ~ N(0, noise^2).
    (1) joint posterior mean/sd;  (2) one-cause hypotheses: p_i ~ prior_p_i N(y; 0, R + s_i^2 J_i J_i^T), plus 'nothing' N(y;0,R);
    (3) twins: cause pairs whose whitened columns are parallel (|cos|>0.95) - readings cannot separate them, a direct check must."""
    A = np.asarray(J, float); s = np.asarray(prior_sd, float); r = np.asarray(noise_sd, float); yy = np.asarray(y, float)
    if A.shape != (len(yy), len(s)) or len(r) != len(yy) or len(names) != len(s): raise BenchError("BAD_INPUT", "shapes")
    if (s <= 0).any() or (r <= 0).any(): raise BenchError("NOT_POSITIVE")
    R = np.diag(r ** 2); AS = A * s ** 2; V = AS @ A.T + R; K = np.linalg.solve(V, AS).T
    mean = K @ yy; cov = np.diag(s ** 2) - K @ AS; sd = np.sqrt(np.maximum(0, np.diag(cov)))
    p0 = np.full(len(s), 0.9 / len(s)) if prior_p is None else np.asarray(prior_p, float)
    if p0.sum() >= 1 or (p0 < 0).any(): raise BenchError("OUT_OF_RANGE", "prior_p must sum below 1 (rest = nothing)")
    def logn(M): return -0.5 * float(yy @ np.linalg.solve(M, yy)) - 0.5 * float(np.linalg.slogdet(M)[1])
    with np.errstate(divide="ignore"):
        lw = np.array([math.log(1 - p0.sum()) + logn(R)] + [np.log(p0[i]) + logn(R + s[i] ** 2 * np.outer(A[:, i], A[:, i])) for i in range(len(s))])
    w = np.exp(lw - lw.max()); w /= w.sum()
    W = A / r[:, None]; nn = np.linalg.norm(W, axis=0); twins = []
    for i, j in itertools.combinations(range(len(s)), 2):
        if nn[i] > 0 and nn[j] > 0:
            c = float(W[:, i] @ W[:, j] / nn[i] / nn[j])
            if abs(c) > 0.95: twins.append((names[i], names[j], c))
    single = [float(s[i] ** 2 * (W[:, i] @ (yy / r)) / (1 + s[i] ** 2 * nn[i] ** 2)) for i in range(len(s))]
    order = sorted(range(len(s)), key=lambda i: -w[i + 1])
    fit = yy - A @ mean; chi2 = float(yy @ np.linalg.solve(V, yy))
    return {"ranked": [{"cause": names[i], "probability": float(w[i + 1]), "size_if_alone": single[i], "joint_mean": float(mean[i]), "joint_sd": float(sd[i])} for i in order],
            "p_nothing": float(w[0]), "twins": twins, "residual": fit.tolist(), "chi2": chi2, "chi2_dof": len(yy)}

# Default sensitivities for an annealed / colour mark near its working point.  Outcomes: L*, a*, b*, ln depth.  Engineering estimates,
# to be replaced by two-level trials on the user's bench.  Cause units: focus = ln(spot-area growth), power ln, dirt ln(transmission), finish um Ra,
# wall ln(thickness ratio), lot s.d.
CAUSES = ["focus", "power ageing", "lens dirt", "surface finish", "thin wall (heat builds up)", "material lot"]
OUTCOMES = ["L", "a", "b", "ln_depth"]
DEFAULT_J = [[8.0, -25.0, -25.0, -3.0, -9.0, 2.0], [-3.0, 12.0, 12.0, 0.5, 5.0, 3.0], [6.0, -30.0, -30.0, -1.0, -12.0, 4.0], [-1.2, 1.5, 1.7, -0.1, 0.2, 0.1]]
DEFAULT_SD = [0.12, 0.06, 0.05, 0.3, 0.25, 1.0]

# ============================================================================ A. marking compound
@dataclass(frozen=True)
class Metal:
    k: float; kappa: float; melt_c: float       # W/(m K) and mm2/s averaged 20-800 degC (engineering averages), degC
METALS = {"stainless_304": Metal(20, 4.8, 1400), "stainless_430": Metal(25, 6.0, 1450), "carbon_steel": Metal(42, 9.5, 1480), "tool_steel": Metal(28, 7.0, 1420),
          "titanium": Metal(17, 7.0, 1660), "nickel": Metal(70, 17, 1450), "aluminium": Metal(180, 70, 620), "brass": Metal(120, 34, 900), "copper": Metal(370, 105, 1083),
          "zinc": Metal(105, 38, 419), "pewter": Metal(50, 25, 235)}
@dataclass(frozen=True)
class Compound:
    bond_c: float; burn_c: float                # interface temperature: bonds above, burns above
    tau_co2: float; tau_fibre: float            # optical thickness of one normal coat
    coat_j_mm2: float                           # heat to bring one dry coat to fusion
    dry_g_m2: float                             # dry mass of one coat
    wash: str
COMPOUNDS = {  # all engineering estimates; calibrate bond/burn by one power ladder (calibrate_coupling)
    "ceramic": Compound(520, 1200, 0.9, 0.7, 0.022, 16.0, "water"),
    "molybdenum": Compound(640, 1050, 0.8, 1.1, 0.012, 9.0, "alcohol")}
LADDER = ["fingernail", "wood", "acrylic", "aluminium", "mild steel", "hardened steel", "180-grit abrasive"]
LADDER_WEIGHT = [5.0, 10.0, 15.0, 15.0, 20.0, 20.0, 15.0]
LADDER_X = [0.05, 0.15, 0.30, 0.45, 0.62, 0.80, 0.93]   # adhesion fraction at which each step is expected to be survived
FINISH = {"raw": 1.0, "brushed": 1.0, "blasted": 1.1, "mirror": 0.2, "clear_coated": 0.0, "painted": 0.0, "waxed": 0.0, "anodised": 0.8, "plated": 0.7}
SUIT = {  # (ceramic, molybdenum): 0 no, 1 poor, 2 fair, 3 good, on raw or brushed metal
    "stainless_304": (3, 3), "stainless_430": (3, 3), "carbon_steel": (3, 2), "tool_steel": (3, 2), "titanium": (3, 2), "nickel": (2, 2),
    "aluminium": (2, 0), "brass": (2, 1), "copper": (1, 0), "zinc": (0, 0), "pewter": (0, 0)}

def suitability(metal: str, finish: str, compound: str) -> Tuple[int, List[str]]:
    """0 no .. 3 good, with reason codes."""
    if metal not in SUIT or finish not in FINISH or compound not in COMPOUNDS: raise BenchError("UNKNOWN_NAME")
    s = SUIT[metal][0 if compound == "ceramic" else 1]; why: List[str] = []
    if metal == "aluminium" and compound == "molybdenum": why.append("MOLY_NOT_ON_ALUMINIUM")
    elif s == 0: why.append("METAL_UNSUITABLE")
    elif s == 1: why.append("CONDUCTS_HEAT_AWAY")
    if finish in ("clear_coated", "painted"): s = 0; why.append("STRIP_COATING_FIRST")
    elif finish == "waxed": s = 0; why.append("REMOVE_POLISH_RESIDUE")
    elif finish == "mirror": s = max(0, s - 2); why.append("POLISH_PREVENTS_BONDING_ROUGHEN")
    elif finish == "anodised":
        if metal not in ("aluminium", "titanium"): raise BenchError("BAD_INPUT", "anodised needs aluminium or titanium")
        s = min(s, 2); why.append("DIRECT_MARK_USUALLY_BETTER")
    elif finish == "plated": s = min(s, 1); why.append("PLATING_MAY_LIFT")
    return s, why

MOVE_A, MOVE_M = 2.12, 0.982        # fitted here to the exact integral, error < 0.6 % for 0.01 <= p <= 100

def moving_factor(speed: float, spot: float, kappa: float) -> float:
    """Peak temperature of a moving Gaussian relative to standing:  p = v R/(4 kappa), R = spot/(2 sqrt2);  fit of the exact integral."""
    p = speed * spot / (2 * math.sqrt(2)) / (4 * kappa); return (1 + MOVE_A * p ** MOVE_M) ** (-0.5 / MOVE_M)

def absorbed_fraction(compound: str, laser: str, coats: float, bare: float = 0.08) -> float:
    """1 - (1-bare) exp(-tau n): the coat absorbs, what passes meets the metal (bare absorptance, CO2 ~0.08, fibre ~0.35)."""
    c = COMPOUNDS[compound]; return 1 - (1 - bare) * math.exp(-(c.tau_co2 if laser == "co2" else c.tau_fibre) * coats)

def compound_temperature(compound: str, metal: str, laser: str, power: float, speed: float, spot: float, coats: float, coupling: float = 0.25, t0: float = 20.0) -> float:
    """Interface temperature.  T = T0 + coupling*(A P - coats*E_coat*v*spot)/(sqrt(2 pi) k w) * g(Pe), w = spot/2.  k in W/(m K) -> W/(mm K)."""
    _pos(power=power, speed=speed, spot=spot, coats=coats, coupling=coupling)
    if laser not in ("co2", "fibre"): raise BenchError("UNKNOWN_NAME", laser)
    m, c = METALS[metal], COMPOUNDS[compound]; a = absorbed_fraction(compound, laser, coats, 0.08 if laser == "co2" else 0.35)
    p = max(0.0, a * power - coats * c.coat_j_mm2 * speed * spot)
    return t0 + coupling * p * moving_factor(speed, spot, m.kappa) / (math.sqrt(2 * math.pi) * m.k * 1e-3 * spot / 2)

def compound_power_for(compound: str, metal: str, laser: str, temp_c: float, speed: float, spot: float, coats: float, coupling: float = 0.25, t0: float = 20.0) -> float:
    """Closed-form inverse of compound_temperature."""
    _pos(speed=speed, spot=spot, coats=coats, coupling=coupling)
    m, c = METALS[metal], COMPOUNDS[compound]; a = absorbed_fraction(compound, laser, coats, 0.08 if laser == "co2" else 0.35)
    return ((temp_c - t0) * math.sqrt(2 * math.pi) * m.k * 1e-3 * spot / 2 / (coupling * moving_factor(speed, spot, m.kappa)) + coats * c.coat_j_mm2 * speed * spot) / a

def calibrate_coupling(compound: str, metal: str, laser: str, first_bonding_power: float, speed: float, spot: float, coats: float, t0: float = 20.0) -> float:
    """coupling from the first power of a ladder whose patch survives the wash."""
    t = compound_temperature(compound, metal, laser, first_bonding_power, speed, spot, coats, 1.0, t0)
    if t <= t0: raise BenchError("OUT_OF_RANGE", "power below the coat's own heat"); 
    return (COMPOUNDS[compound].bond_c - t0) / (t - t0)

def compound_window(compound: str, metal: str, laser: str, speed: float, spot: float, pitch: float, coats: float = 2, coupling: float = 0.25) -> Dict[str, float]:
    """Power, line-energy (J/mm) and areal-dose (J/mm2) window; aim = geometric mean.  ratio = P_hi/P_lo (below 1.15: not workable)."""
    _pos(pitch=pitch); c, m = COMPOUNDS[compound], METALS[metal]; hi_c = min(c.burn_c, m.melt_c - 20)
    if hi_c <= c.bond_c: raise BenchError("NO_WINDOW", "metal melts before the compound bonds")
    lo, hi = (compound_power_for(compound, metal, laser, t, speed, spot, coats, coupling) for t in (c.bond_c, hi_c)); aim = math.sqrt(lo * hi)
    return {"p_lo": lo, "p_aim": aim, "p_hi": hi, "line_lo": lo / speed, "line_aim": aim / speed, "line_hi": hi / speed, "dose_lo": lo / speed / pitch, "dose_aim": aim / speed / pitch,
            "dose_hi": hi / speed / pitch, "ratio": hi / lo}

def compound_outcome(compound: str, metal: str, finish: str, laser: str, power: float, speed: float, spot: float, pitch: float, coats: float = 2, passes: int = 1, coupling: float = 0.25) -> Dict[str, object]:
    """class: no_bond / under_fused / good / over_burnt;  adhesion 0..1 and expected ladder level 0..7."""
    _pos(pitch=pitch)
    if passes < 1: raise BenchError("NOT_POSITIVE", "passes")
    su, why = suitability(metal, finish, compound); c, m = COMPOUNDS[compound], METALS[metal]
    T = compound_temperature(compound, metal, laser, power, speed, spot, coats, coupling); hi = min(c.burn_c, m.melt_c - 20)
    hot = spot / speed * max(1.0, spot / pitch)                                      # s spent near peak by a point
    rate = 2000.0 * math.exp(110e3 / 8.314 * (1 / 1000.0 - 1 / (T + 273.15)))
    X = 1 - math.exp(-rate * hot * (1 + 0.5 * (passes - 1)))                          # a later pass counts half (fused film absorbs less)
    f = FINISH[finish] * (1.0 if coats <= 2 else 0.9 if coats <= 3 else 0.75)
    if T > hi: f *= math.exp(-3 * (T - hi) / hi)
    adh = 0.0 if su == 0 else min(1.0, X * f); u = (T - c.bond_c) / (hi - c.bond_c)
    cls = "no_bond" if su == 0 else "over_burnt" if u > 1 else "under_fused" if u < 0 or adh < LADDER_X[2] else "good"
    return {"class": cls, "interface_c": T, "position": u, "adhesion": adh, "level": 0 if cls == "no_bond" else sum(adh >= x for x in LADDER_X), "suitability": su, "reasons": why,
            "line_j_mm": power / speed, "dose_j_mm2": power * passes / (speed * pitch)}

def ladder_score(grades: Sequence[float]) -> Dict[str, object]:
    """grades in test order: 1 untouched, 0.5 lightened, 0 removed.  Testing stops at the first 0; steps not tested count 0.
    level = steps passed with >= 0.5 before the stop; score = 100*sum(w g)/sum(w).  A bright metal streak ON the mark that wipes off is not damage."""
    if len(grades) > len(LADDER) or any(g not in (0, 0.5, 1) for g in grades): raise BenchError("BAD_INPUT", "grades")
    sc = 0.0; lvl = 0
    for g, w in zip(grades, LADDER_WEIGHT):
        if g == 0: break
        sc += g * w; lvl += 1
    return {"level": lvl, "survives": LADDER[lvl - 1] if lvl else "nothing", "score": 100 * sc / sum(LADDER_WEIGHT)}

STEPS = {
    "ceramic": ["strip lacquer or wax; degrease with alcohol, no fingerprints", "shake can 1-2 min; mask with tape", "mist coat, then one even coat from 200-250 mm until the metal just disappears",
                "dry until matt: 2-10 min in still warm air (warm air gun allowed, not over 60 degC)", "mark with extraction on; keep air assist low so powder is not blown off",
                "cool, wash with WATER and a soft brush; collect rinse, do not drain unfiltered", "dry; wipe; ladder test on a scrap piece"],
    "molybdenum": ["not on aluminium; strip lacquer or wax; degrease", "shake; two thin coats, no runs", "dry until touch-dry: 5-15 min (solvent film: no flame, ventilate before lasing)",
                   "mark with extraction on: sulphur dioxide and molybdenum oxide fume", "wash off with ALCOHOL straight after marking, before the rest of the film cures; if it has set: pumice hand cleaner",
                   "dry; light oil on carbon steel against flash rust", "ladder test on a scrap piece"]}

def wash_step_ok(compound: str, agent: str, minutes_since_mark: float, quick_min: float = 15.0) -> Tuple[bool, str]:
    if compound not in COMPOUNDS: raise BenchError("UNKNOWN_NAME")
    _nonneg(t=minutes_since_mark)
    if compound == "ceramic": return (agent == "water", "ok" if agent == "water" else "USE_WATER")
    if agent == "pumice": return True, "ok"
    if agent == "alcohol": return (True, "ok") if minutes_since_mark <= quick_min else (False, "SET_USE_PUMICE")
    return False, "USE_ALCOHOL_OR_PUMICE"

def spray_use(compound: str, coats: float, mark_w: float, mark_h: float, *, border: float = 8.0, fill: float = 0.3, can_g: float = 340.0, solids: float = 0.20,
              transfer: float = 0.5, can_price: float = 60.0, wash_cost: float = 0.10, gang: int = 1) -> Dict[str, float]:
    """Area one can covers (mm2, n coats), marks per can, cost, and the share of solids that ends in the mark.  gang = pieces sprayed edge to edge in a row:
    the border is shared -> sprayed area per piece = (w + 2b/gang)(h + 2b)."""
    _pos(coats=coats, w=mark_w, h=mark_h, can=can_g, solids=solids, transfer=transfer); _nonneg(border=border, price=can_price)
    if transfer > 1 or solids > 1 or not 0 < fill <= 1: raise BenchError("OUT_OF_RANGE", "fractions")
    if gang < 1: raise BenchError("NOT_POSITIVE", "gang")
    area = can_g * solids * transfer / (COMPOUNDS[compound].dry_g_m2 * coats) * 1e6
    spr = (mark_w + 2 * border / gang) * (mark_h + 2 * border); n = area / spr
    return {"can_area_mm2": area, "sprayed_mm2": spr, "marks_per_can": n, "cost_per_mark": can_price / n + wash_cost, "useful_share": transfer * fill * mark_w * mark_h / spr,
            "waste_g_per_mark": can_g * solids / n * (1 - transfer * fill * mark_w * mark_h / spr)}

@dataclass(frozen=True)
class Method:
    name: str; fixed: float; rate_h: float; mark_s: float; handle_s: float; consumable: float; L: float; level: float   # rate_h: machine+operator per hour
def compare_methods(a: Method, b: Method, qty: int) -> Dict[str, object]:
    """Variable cost per piece = rate*(mark+handling)/3600 + consumable.  Darker = lower L*; tougher = higher ladder level."""
    va, vb = (m.rate_h * (m.mark_s + m.handle_s) / 3600 + m.consumable for m in (a, b)); be = break_even(a.fixed, va, b.fixed, vb)
    ta, tb = a.fixed + va * qty, b.fixed + vb * qty
    return {"unit_a": ta / qty, "unit_b": tb / qty, "var_a": va, "var_b": vb, "break_even": be, "cheaper": a.name if ta <= tb else b.name,
            "darker": a.name if a.L < b.L else b.name, "tougher": a.name if a.level > b.level else b.name if b.level > a.level else "equal",
            "faster": a.name if a.mark_s + a.handle_s < b.mark_s + b.handle_s else b.name}
# typical figures (engineering estimates): (L*, ladder level, handling s/piece incl. spray, dry share, wash)
METHOD_HINT = {"ceramic on stainless": (24, 6, 90), "molybdenum on stainless": (27, 5, 100), "direct anneal on stainless": (30, 6, 8), "direct engrave dark": (38, 7, 8)}

# ============================================================================ B. transfer between machines
@dataclass(frozen=True)
class Limits:
    """What the new source + lens can do.  spot_min = focal spot; spot_max = the largest usable defocused spot."""
    power: Tuple[float, float]; speed: Tuple[float, float]; freq: Tuple[float, float]; spot: Tuple[float, float]
    pitch: Tuple[float, float] = (0.001, 1.0); pulses_ns: Tuple[float, ...] = (100.0,); energy_max_mj: float = math.inf; max_passes: int = 10; wavelength_nm: float = 1064.0
@dataclass(frozen=True)
class Settings:
    power: float; speed: float; freq: float; spot: float; pitch: float; pulse_ns: float; passes: int = 1; wavelength_nm: float = 1064.0

VARS = ("power", "speed", "freq", "spot", "pitch")
# ln(invariant) = row . (lnP, lnv, lnf, lnd, lnp) + passes_coef*lnN + pulse_coef*ln tau + const
INVARIANTS: Dict[str, Tuple[Tuple[float, ...], float, float]] = {
    "areal_dose": ((1, -1, 0, 0, -1), 1, 0), "pulses_per_mm2": ((0, -1, 1, 0, -1), 1, 0), "fluence": ((1, 0, -1, -2, 0), 0, 0),
    "temperature_P_d": ((1, 0, 0, -1, 0), 0, 0), "spot": ((0, 0, 0, 1, 0), 0, 0), "pulse_step": ((0, 1, -1, -1, 0), 0, 0), "hatch_step": ((0, 0, 0, -1, 1), 0, 0),
    "fluence_margin": ((1, 0, -1, -2, 0), 0, -0.5), "peak_irradiance": ((1, 0, -1, -2, 0), 0, -1), "line_energy": ((1, -1, 0, 0, 0), 0, 0), "passes": ((0, 0, 0, 0, 0), 1, 0), "pulse": ((0, 0, 0, 0, 0), 0, 1)}
PROCESS: Dict[str, Tuple[str, ...]] = {   # priority order
    "anneal": ("areal_dose", "temperature_P_d", "spot", "hatch_step", "pulses_per_mm2", "passes", "pulse"),
    "colour": ("pulses_per_mm2", "areal_dose", "fluence", "pulse", "hatch_step", "spot", "passes"),
    "engrave": ("fluence", "pulse_step", "hatch_step", "areal_dose", "pulse", "spot", "passes"),
    "strip": ("fluence_margin", "pulse_step", "hatch_step", "areal_dose", "passes", "pulse", "spot"),
    "compound": ("temperature_P_d", "areal_dose", "hatch_step", "spot", "passes", "pulses_per_mm2", "pulse")}
CONSEQUENCE: Dict[Tuple[str, str, int], str] = {   # +1: new value too high, -1: too low
    ("anneal", "areal_dose", 1): "darker, warmer part; may go past black to a grey, rougher scale and lose corrosion resistance", ("anneal", "areal_dose", -1): "paler, brownish mark; oxide too thin",
    ("anneal", "temperature_P_d", 1): "surface may melt: shine, relief, loss of the flat anneal look", ("anneal", "temperature_P_d", -1): "oxide hardly grows however long the dose; pale",
    ("anneal", "spot", 1): "softer edges, small text fills in", ("anneal", "spot", -1): "melting at the same power; visible lines",
    ("anneal", "hatch_step", 1): "visible lines in the mark", ("anneal", "hatch_step", -1): "slower, hotter between lines",
    ("anneal", "pulses_per_mm2", 1): "more even heating, little change", ("anneal", "pulses_per_mm2", -1): "stronger single pulses: risk of pitting",
    ("colour", "pulses_per_mm2", 1): "hue moves up the order (thicker oxide)", ("colour", "pulses_per_mm2", -1): "hue moves down the order (thinner oxide)",
    ("colour", "areal_dose", 1): "hue up the order, then grey", ("colour", "areal_dose", -1): "hue down the order; straw instead of blue",
    ("colour", "fluence", 1): "melting and ripples: dull, grey colour", ("colour", "fluence", -1): "thin oxide per pulse: hue down, may stay bare metal",
    ("colour", "pulse", 1): "deeper heating per pulse: hue shift, less saturation; new proof sheet needed", ("colour", "pulse", -1): "shallower heating per pulse: hue shift, more risk of ablation; new proof sheet needed",
    ("engrave", "fluence", 1): "more melt and burr per pulse, rougher floor", ("engrave", "fluence", -1): "less removal per pulse; below threshold: no engraving, only melt",
    ("engrave", "pulse_step", 1): "separated craters, rough wall", ("engrave", "pulse_step", -1): "heat build-up, recast, darker floor",
    ("engrave", "hatch_step", 1): "ridges between lines", ("engrave", "hatch_step", -1): "slower; deeper per pass", ("engrave", "areal_dose", 1): "deeper than before", ("engrave", "areal_dose", -1): "shallower than before: add passes",
    ("strip", "fluence_margin", 1): "base metal may be marked under the coating", ("strip", "fluence_margin", -1): "coating remains as islands or a haze",
    ("strip", "pulse_step", 1): "scallops of coating left between pulses", ("strip", "pulse_step", -1): "coating chars, heat in the base", ("strip", "hatch_step", 1): "stripes of coating left", ("strip", "hatch_step", -1): "slower; more heat",
    ("strip", "areal_dose", 1): "hotter; watch yellowing edges", ("strip", "areal_dose", -1): "second pass may be needed",
    ("compound", "temperature_P_d", 1): "compound burns off, brown edge", ("compound", "temperature_P_d", -1): "under-fused, washes off", ("compound", "areal_dose", 1): "over-burnt risk", ("compound", "areal_dose", -1): "under-fused, poor adhesion",
    ("compound", "hatch_step", 1): "lines visible, gaps", ("compound", "hatch_step", -1): "slower"}

def invariants(s: Settings) -> Dict[str, float]:
    """Physical values.  dose J/mm2, pulses/mm2, peak fluence J/mm2 = 8E/(pi d^2) (Gaussian axis), P/d W/mm, steps relative to spot."""
    for k in VARS: _pos(**{k: getattr(s, k)})
    _pos(pulse=s.pulse_ns, passes=s.passes); e = s.power / (s.freq * 1e3)
    F = 8 * e / (math.pi * s.spot ** 2)
    return {"areal_dose": s.power * s.passes / (s.speed * s.pitch), "pulses_per_mm2": s.freq * 1e3 * s.passes / (s.speed * s.pitch), "fluence": F, "temperature_P_d": s.power / s.spot,
            "spot": s.spot, "pulse_step": s.speed / (s.freq * 1e3 * s.spot), "hatch_step": s.pitch / s.spot, "fluence_margin": F / math.sqrt(s.pulse_ns), "peak_irradiance": F / s.pulse_ns,
            "line_energy": s.power / s.speed, "passes": float(s.passes), "pulse": s.pulse_ns, "pulse_energy_mj": e * 1e3}

W_RATIO = 20.0      # each priority level counts 20 times the next in residual

def solve_boxed(rows: np.ndarray, rhs: np.ndarray, lo: np.ndarray, hi: np.ndarray, ineq: Optional[Tuple[np.ndarray, float]] = None) -> np.ndarray:
    """Exact min |rows x - rhs|^2 on a box plus at most one linear inequality a.x <= c: enumerate active sets (3^5*2), keep the best feasible.
    Ties: first found in enumeration order (all free first)."""
    n = rows.shape[1]; best = None; bx = None; fixed0 = hi - lo < 1e-12; free_opts = [(1,) if fixed0[i] else (0, 1, 2) for i in range(n)]
    combos = sorted(itertools.product(*free_opts), key=lambda c: sum(q != 0 for q in c))
    for use_eq in ((False, True) if ineq is not None and math.isfinite(ineq[1]) else (False,)):
        for c in combos:
            x = np.where(np.array(c) == 1, lo, hi).astype(float); fr = np.array([q == 0 for q in c])
            r = rhs - rows[:, ~fr] @ x[~fr]; A = rows[:, fr]
            if use_eq:
                a, cc = ineq; af = a[fr]
                if not np.any(af): continue
                j = int(np.argmax(np.abs(af))); rest = [k for k in range(len(af)) if k != j]   # eliminate variable j
                base = (cc - a[~fr] @ x[~fr]) / af[j]; M = A[:, rest] - np.outer(A[:, j], af[rest] / af[j])
                y = np.linalg.lstsq(M, r - A[:, j] * base, rcond=None)[0] if rest else np.zeros(0)
                z = np.zeros(len(af)); z[rest] = y; z[j] = base - (af[rest] / af[j]) @ y if rest else base; x[fr] = z
            elif fr.any(): x[fr] = np.linalg.lstsq(A, r, rcond=None)[0]
            if (x < lo - 1e-9).any() or (x > hi + 1e-9).any(): continue
            if ineq is not None and ineq[0] @ x > ineq[1] + 1e-9: continue
            cost = float(((rows @ x - rhs) ** 2).sum())
            if not use_eq and all(q == 0 or fixed0[i] for i, q in enumerate(c)): return x      # unconstrained optimum is feasible: done
            if best is None or cost < best * (1 - 1e-9) - 1e-26: best, bx = cost, x
    if bx is None: raise BenchError("INFEASIBLE", "limits contradict each other")
    return bx

def transfer(old: Settings, process: str, new: Limits, *, keep: float = 0.02, fixed: Optional[Dict[str, float]] = None) -> Dict[str, object]:
    """Ordered least squares on logs; discrete outer loop over pulse widths and passes.  kept: |ln ratio| <= ln(1+keep)."""
    if process not in PROCESS: raise BenchError("UNKNOWN_NAME", process)
    order = PROCESS[process]; inv0 = invariants(old); x0 = np.log([getattr(old, v) for v in VARS])
    lo = np.log([getattr(new, v)[0] for v in VARS]); hi = np.log([getattr(new, v)[1] for v in VARS])
    if (hi < lo).any(): raise BenchError("OUT_OF_RANGE", "limits")
    for k, v in (fixed or {}).items(): i = VARS.index(k); lo[i] = hi[i] = math.log(v)
    best = None; a = np.array([1.0, 0, -1.0, 0, 0]); cap = (a, math.log(new.energy_max_mj)) if math.isfinite(new.energy_max_mj) else None   # P/f[W/kHz] = mJ
    wave_pen = 0.0 if abs(old.wavelength_nm - new.wavelength_nm) < 1 else 1.0
    for tau in new.pulses_ns:
        for N in range(1, new.max_passes + 1):
            rows, rhs, const = [], [], 0.0
            for lev, name in enumerate(order):
                row, cN, cT = INVARIANTS[name]; w = W_RATIO ** -lev
                t = sum(r * q for r, q in zip(row, x0)) + cN * math.log(old.passes / N) + cT * math.log(old.pulse_ns / tau)   # target of row.x
                if any(row): rows.append([w * q for q in row]); rhs.append(w * t)
                else: const += (w * t) ** 2
            for i in range(5): rows.append([1e-10 * (k == i) for k in range(5)]); rhs.append(1e-10 * x0[i])        # tie-break: stay near the old
            A, b = np.array(rows, float), np.array(rhs, float)
            x = solve_boxed(A, b, lo, hi, cap); cost = float(((A @ x - b) ** 2).sum()) + const
            if best is None or cost < best[0] - 1e-19: best = (cost, x, tau, N)
    _, x, tau, N = best; s = Settings(*[float(q) for q in np.exp(x)], pulse_ns=tau, passes=N, wavelength_nm=new.wavelength_nm); inv1 = invariants(s)
    report = []
    for lev, name in enumerate(order):
        r = inv1[name] / inv0[name]; ok = abs(math.log(r)) <= math.log(1 + keep) + 1e-12
        report.append({"invariant": name, "priority": lev + 1, "ratio": r, "kept": ok, "effect": "" if ok else CONSEQUENCE.get((process, name, 1 if r > 1 else -1), "small change expected; check on a proof")})
    clamps = [VARS[i] + ("_min" if x[i] - lo[i] < 1e-7 else "_max") for i in range(5) if (x[i] - lo[i] < 1e-7 or hi[i] - x[i] < 1e-7) and hi[i] > lo[i]]
    if cap is not None and cap[1] - a @ x < 1e-7: clamps.append("pulse_energy_max")
    lost = [r for r in report if not r["kept"]]
    big = any(r["priority"] <= 2 or (r["priority"] <= 4 and abs(math.log(r["ratio"])) > math.log(1.2)) for r in lost)
    verdict = "new proof sheet needed" if big or wave_pen else "close" if lost else "equivalent"
    return {"settings": s, "report": report, "clamped": clamps, "verdict": verdict, "note": "wavelength differs: absorption changes, doses are not comparable" if wave_pen else "", "invariants": inv1}

def transfer_anneal_closed(old: Settings, new: Limits) -> Settings:
    """Closed form with clamping, anneal: d=clamp(d0); p=clamp(p0 d/d0); P=clamp(P0 d/d0); v=clamp(P N/(D p)); f=clamp(n v p/N).  Equals transfer() when nothing clamps."""
    c = lambda v, lim: min(max(v, lim[0]), lim[1]); i = invariants(old)
    d = c(old.spot, new.spot); p = c(old.pitch * d / old.spot, new.pitch); P = c(old.power * d / old.spot, new.power)
    v = c(P * old.passes / (i["areal_dose"] * p), new.speed); f = c(i["pulses_per_mm2"] * v * p / old.passes / 1e3, new.freq)
    return Settings(P, v, f, d, p, old.pulse_ns, old.passes)

def transfer_colour_closed(old: Settings, new: Limits) -> Settings:
    """Closed form, colour: d=clamp(d0); E=E0 (d/d0)^2 (fluence), but dose/pulses = E must stay E0 -> if d moves, pulses and dose win: E=E0;
    p=clamp(p0 d/d0); P=min(Pmax, E f) with f = clamp(f0) ; f=P/E; v=clamp(f/(n p))."""
    c = lambda v, lim: min(max(v, lim[0]), lim[1]); i = invariants(old); E = i["pulse_energy_mj"]
    d = c(old.spot, new.spot); p = c(old.pitch * d / old.spot, new.pitch); f = c(old.freq, new.freq); P = c(E * f, new.power); f = c(P / E, new.freq)
    v = c(f * 1e3 * old.passes / (i["pulses_per_mm2"] * p), new.speed); return Settings(P, v, f, d, p, old.pulse_ns, old.passes)

@dataclass(frozen=True)
class Dialog:
    """How a machine's window shows settings.  *_max None: absolute field.  step: smallest change of the field.  pitch_unit mm/lpi/l/cm/dpi;  pitch_list: allowed entries."""
    speed_max: Optional[float] = None; power_max: Optional[float] = None; freq_max: Optional[float] = None
    speed_step: float = 1.0; power_step: float = 1.0; freq_step: float = 1.0; pitch_unit: str = "mm"; pitch_step: float = 0.001; pitch_list: Tuple[float, ...] = ()
    power_table: Tuple[Tuple[float, float], ...] = ()

def _show(x: float, mx: Optional[float], step: float, table=None) -> Tuple[float, float]:
    """(dialog value, absolute value realised)"""
    if mx is not None or table:
        p, _ = abs_to_pct(x, mx or 0, table or None, step); return p, pct_to_abs(p, mx or 0, table or None)
    q = max(step, math.floor(x / step + 0.5) * step) if step > 0 else x; return q, q

def to_dialog(old: Settings, process: str, new: Limits, dlg: Dialog) -> Dict[str, object]:
    """Transfer, then round to the dialog field by field - pitch, frequency, speed, power (coarsest and least important first) - re-solving the rest after
    each rounding so that later fields absorb the error of earlier ones."""
    s = transfer(old, process, new)["settings"]; fx: Dict[str, float] = {}; shown: Dict[str, float] = {}
    if dlg.pitch_list: entry = min(dlg.pitch_list, key=lambda e: abs(math.log((convert(e, dlg.pitch_unit, "mm")) / s.pitch)))
    else: e = convert(s.pitch, "mm", dlg.pitch_unit); entry = max(dlg.pitch_step, math.floor(e / dlg.pitch_step + 0.5) * dlg.pitch_step)
    shown["pitch"] = entry; fx["pitch"] = convert(entry, dlg.pitch_unit, "mm")
    for name, mx, st, tb in (("freq", dlg.freq_max, dlg.freq_step, None), ("speed", dlg.speed_max, dlg.speed_step, None), ("power", dlg.power_max, dlg.power_step, dlg.power_table)):
        s = transfer(old, process, new, fixed=fx)["settings"]; shown[name], fx[name] = _show(getattr(s, name), mx, st, tb)
    r = transfer(old, process, new, fixed=fx, keep=0.03); r["dialog"] = shown; return r

def from_dialog(values: Dict[str, float], dlg: Dialog, spot: float, pulse_ns: float, passes: int = 1) -> Settings:
    g = lambda k, mx, tb=None: pct_to_abs(values[k], mx or 0, tb or None) if (mx is not None or tb) else values[k]
    return Settings(g("power", dlg.power_max, dlg.power_table), g("speed", dlg.speed_max), g("freq", dlg.freq_max), spot, convert(values["pitch"], dlg.pitch_unit, "mm"), pulse_ns, passes)

# ============================================================================ G. search surrogate
def features(power, speed, freq, pitch, spot, pulse_ns) -> np.ndarray:
    """(...,4): ln areal dose [J/mm2], ln pulses per mm2, ln peak fluence [J/mm2], ln peak power [W].  NOTE: at one spot and one pulse width these
    have rank 2 (dose = pulses*energy; fluence and peak power both follow the energy)."""
    P, v, f, p, d, t = np.broadcast_arrays(*[np.asarray(q, float) for q in (power, speed, freq, pitch, spot, pulse_ns)])
    e = P / (f * 1e3)
    return np.stack([np.log(P / (v * p)), np.log(f * 1e3 / (v * p)), np.log(8 * e / (np.pi * d * d)), np.log(e / (t * 1e-9))], -1)

def matern52(X: np.ndarray, Y: np.ndarray, amp: float, ell: np.ndarray) -> np.ndarray:
    """amp^2 (1+s+s^2/3) e^-s, s = sqrt5 r, r^2 = sum((x-y)^2/ell^2)."""
    A, B = X / ell, Y / ell
    r = np.sqrt(np.maximum(0, (A ** 2).sum(1)[:, None] + (B ** 2).sum(1)[None] - 2 * A @ B.T)); s = math.sqrt(5) * r
    return amp ** 2 * (1 + s + s * s / 3) * np.exp(-s)

def reading_sd(evenness_L: float, n_spots: int = 1, instrument: float = 0.3, floor: float = 0.3) -> float:
    """Noise of one cell's Lab mean: sqrt(instrument^2 + floor^2 + evenness^2/n);  evenness = sd of L* inside the cell."""
    if n_spots < 1: raise BenchError("NOT_POSITIVE", "n_spots")
    return math.sqrt(instrument ** 2 + floor ** 2 + evenness_L ** 2 / n_spots)

def gp_posterior(X: np.ndarray, r: np.ndarray, sd: Sequence[float], Xs: np.ndarray, amp: float, ell: float) -> Tuple[np.ndarray, np.ndarray]:
    """Residual GP at Xs given residuals r (n,) or (n,c) at X with noise sd (n,): mean, sd (without reading noise).  Deterministic core of Surrogate."""
    X, Xs, r = np.asarray(X, float), np.asarray(Xs, float), np.asarray(r, float); e = np.full(X.shape[1], ell)
    L = np.linalg.cholesky(matern52(X, X, amp, e) + np.diag(np.asarray(sd, float) ** 2)); V = np.linalg.solve(L, matern52(X, Xs, amp, e))
    return V.T @ np.linalg.solve(L, r), np.sqrt(np.maximum(0.0, amp ** 2 - (V ** 2).sum(0)))

class Surrogate:
    """Lab(x) = prior(theta, x) + GP residual per channel (shared kernel).  theta: physics parameters, prior N(theta_mean, theta_sd), carried as particles
    by tempered resample-move.  Burnt cells feed only the burn probability  sigmoid((risk(theta,x))/burn_scale)."""
    AMPS, ELLS = (1.5, 3.0, 6.0), (0.5, 1.0, 2.0)          # grid; priors: ln amp ~ N(ln 3, 0.6^2), ln ell ~ N(ln 1, 0.5^2)

    def __init__(self, prior_lab, prior_risk, theta_mean, theta_sd, *, n_particles: int = 300, burn_scale: float = 0.1, seed: int = 0, use_gp: bool = True, stages: int = 6, moves: int = 2):
        self.lab, self.risk = prior_lab, prior_risk          # lab(theta (m,k), X (n,q)) -> (m,n,3);  risk(...) -> (m,n)
        self.tm, self.ts = np.asarray(theta_mean, float), np.asarray(theta_sd, float)
        self.m, self.bs, self.rng, self.use_gp, self.stages, self.moves = n_particles, burn_scale, np.random.default_rng(seed), use_gp, stages, moves
        self.amp, self.ell = 3.0, 1.0
        self.X = np.zeros((0, 4)); self.Y = np.zeros((0, 3)); self.sd = np.zeros(0); self.burnt = np.zeros(0, bool)
        self.theta = self.tm + self.ts * self.rng.standard_normal((self.m, len(self.tm))); self._chol = None

    def add(self, X, Y, sd, burnt) -> None:
        self.X = np.vstack([self.X, X]); self.Y = np.vstack([self.Y, Y]); self.sd = np.r_[self.sd, sd]; self.burnt = np.r_[self.burnt, burnt]; self._fit()

    def _factor(self, amp, ell):
        ok = ~self.burnt; X = self.X[ok]
        K = matern52(X, X, amp if self.use_gp else 1e-3, np.full(4, ell)) + np.diag(self.sd[ok] ** 2 + (0.0 if self.use_gp else 9.0))
        return np.linalg.cholesky(K + 1e-9 * np.eye(len(K)))

    def _loglik(self, th, L=None):
        L = self._chol if L is None else L; ok = ~self.burnt; m = len(th)
        r = self.Y[ok][None] - self.lab(th, self.X[ok]); n = int(ok.sum())
        w = np.linalg.solve(L, r.transpose(1, 0, 2).reshape(n, -1)).reshape(n, m, 3) if n else np.zeros((1, m, 3))
        ll = -0.5 * (w ** 2).sum((0, 2)) - 3 * float(np.log(np.diag(L)).sum() if n else 0)
        z = self.risk(th, self.X) / self.bs
        return ll - np.where(self.burnt[None], np.logaddexp(0, -z), np.logaddexp(0, z)).sum(1)

    def _hyper(self):
        if not self.use_gp or (~self.burnt).sum() < 8: self._chol = self._factor(self.amp, self.ell); return
        best = None
        for a in self.AMPS:
            for e in self.ELLS:
                L = self._factor(a, e); v = self._loglik(self.theta[:60], L).max() - 0.5 * (math.log(a / 3) / 0.6) ** 2 - 0.5 * (math.log(e) / 0.5) ** 2
                if best is None or v > best[0]: best = (v, a, e, L)
        _, self.amp, self.ell, self._chol = best

    def _fit(self):
        k = len(self.tm); th = self.tm + self.ts * self.rng.standard_normal((self.m, k)); self.amp, self.ell = 3.0, 1.0; self._chol = self._factor(3.0, 1.0)
        ll = self._loglik(th); beta = 0.0
        while beta < 1:
            lo, hi = 0.0, 1 - beta                                    # next temperature: effective sample size = half
            for _ in range(30):
                mid = (lo + hi) / 2; w = np.exp(mid * (ll - ll.max())); w /= w.sum()
                lo, hi = (mid, hi) if 1 / (w ** 2).sum() > self.m / 2 else (lo, mid)
            d = 1 - beta if 1 / (lambda w: ((w / w.sum()) ** 2).sum())(np.exp((1 - beta) * (ll - ll.max()))) > self.m / 2 else max(lo, 1e-3, 0.35 * beta)      # floor: at most ~25 stages even if every stage is degenerate
            d = min(d, 1 - beta)
            w = np.exp(d * (ll - ll.max())); idx = self.rng.choice(self.m, self.m, p=w / w.sum()); beta = min(1.0, beta + d); th, ll = th[idx], ll[idx]
            for _ in range(self.moves):
                s = th.std(0) * 0.5 + 1e-3 * self.ts; q = th + s * self.rng.standard_normal(th.shape); lq = self._loglik(q)
                lp = lambda t: -0.5 * (((t - self.tm) / self.ts) ** 2).sum(1)
                acc = np.log(self.rng.random(self.m)) < beta * (lq - ll) + lp(q) - lp(th); th[acc], ll[acc] = q[acc], lq[acc]
        self.theta = th[np.argsort(-ll)]; self._hyper()
        ll = self._loglik(self.theta); w = np.exp(ll - ll.max()); w /= w.sum()                  # one more move under the chosen kernel
        if 1 / (w ** 2).sum() < self.m / 20: w = np.exp(0.3 * (ll - ll.max())); w /= w.sum()
        self.theta = self.theta[self.rng.choice(self.m, self.m, p=w)]

    def predict(self, X, n_theta: int = 32):
        """-> mean (s,n,3) per particle, sd (n,) of the GP residual, burn probability (n,)."""
        th = self.theta[self.rng.permutation(self.m)[:n_theta]]; mu = self.lab(th, X); pb = (1 / (1 + np.exp(-np.clip(self.risk(th, X) / self.bs, -50, 50)))).mean(0)
        ok = ~self.burnt; Xo = self.X[ok]
        if not len(Xo) or not self.use_gp: return mu, np.full(len(X), self.amp if self.use_gp else 3.0), pb
        Ks = matern52(X, Xo, self.amp, np.full(4, self.ell)); V = np.linalg.solve(self._chol, Ks.T)
        r = self.Y[ok][None] - self.lab(th, Xo); w = np.linalg.solve(self._chol, r.transpose(1, 0, 2).reshape(len(Xo), -1))
        mu = mu + (V.T @ w).reshape(len(X), len(th), 3).transpose(1, 0, 2)
        return mu, np.sqrt(np.maximum(1e-6, self.amp ** 2 - (V ** 2).sum(0))), pb

    def sheet_value(self, X, cells: int, target, tol: float = 3.0, max_burnt: float = 6.0, times=None, max_time: float = math.inf, draws: int = 2):
        """X (sheets*cells,4).  P(at least one unburnt cell within tol of target), with residual draws fully correlated inside a sheet (conservative);
        0 for sheets whose expected burnt count or time breaks the limits.  -> (value, expected burnt, expected best dE)."""
        mu, sd, pb = self.predict(X); S = len(X) // cells; hit = np.zeros(S); bd = np.zeros(S)
        for _ in range(draws):
            z = self.rng.standard_normal((mu.shape[0], S, 1, 3)); y = mu.reshape(mu.shape[0], S, cells, 3) + sd.reshape(1, S, cells, 1) * z
            d = delta_e00(y, np.asarray(target, float)); d = np.where(self.rng.random(d.shape) < pb.reshape(1, S, cells), 99.0, d); m = d.min(2)
            hit += (m < tol).mean(0); bd += np.minimum(m, 30).mean(0)
        eb = pb.reshape(S, cells).sum(1); v = hit / draws; bad = eb > max_burnt
        over = eb / max(max_burnt, 1e-9)
        if times is not None: bad |= np.asarray(times) > max_time; over = over + np.asarray(times) / max_time
        return np.where(bad, 0.0, v), eb, np.where(bad, 99.0 + over, bd / draws)      # if nothing is admissible: the least offender
