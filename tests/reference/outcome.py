# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""outcome.py - joins the heat, film and colour model with the crater, coat and plate model into ONE answer about a surface.

Pure functions, no state, no random numbers. Units as in the two older modules: um (spot, crater, depth), nm (film), mm (scan, focus, parts), mJ, J/cm2 (pulse), J/mm2 (area),
ns, kHz, W, mm/s. Formulas: docs/physics.md; the tags [J..] are theirs. The two older modules are imported, not changed:

    o = outcome(Source(...), Optics(...), Settings(...), Stock(...), Run(...), Evidence(...))
"""
from __future__ import annotations
import math
from dataclasses import dataclass, replace
from typing import Dict, List, Optional, Tuple

import anneal_color as ac
import removal as rm     
from anneal_color import Optics, Settings, Source

# ---------------------------------------------------------------- constants (all engineering estimates unless the SPEC says otherwise) [J12]
S_BOIL = 0.25          # ln spread of the fluence at which one pulse boils or tears
S_TORN = 0.50          # ln spread of crater depth over film thickness
S_HEAT = 0.42          # ln spread of the heat model's removal index
S_MELT = 0.20          # ln spread of the melt index
S_FILM = 0.30          # ln spread of the film thickness without evidence
S_DARK = 0.40          # ln spread of the areal energy that darkens a floor
S_FROST = 0.20         # spread of the log ratio at which a floor frosts
S_SEEN, L_SEEN = 0.15, 0.30  # log ratio from which a crater is seen, and its spread
S_OVER, OVER = 0.15, 0.50    # overlap from which craters merge
L_APART, L_MERGED = 0.70, 1.50   # log ratio that frosts: craters apart, craters merged
DEEP_UM, FROST_UM = 3.0, 8.0     # removal that means engraving; frosted rather than engraved up to here
CAST_SHORT, CAST_LONG, CAST_NS, CAST_L = 0.30, 0.80, 60.0, 2.0   # recast near the threshold
CAST_PASS, CAST_N = 0.70, 60.0   # recast of crowded pulses in one pass
K_GROOVE = 1.0         # wall and plume loss of a groove cut in one pass
LIFT_NM = {"none": 0.0, "nickel": 0.0, "clear": 300.0}   # what a pulse must lift at once before the metal can leave
LEFT = 0.75            # share of the stock that the upper end of the depth band may take (half at the likely depth)
WIDE_TAU = 0.50        # ln spread added per ln unit of clamped pulse width, frequency or power
DARK_L, DARK_SPREAD = 38.0, 10.0
BLASTED = (1.25, 0.80)  # absorptance factor and haze, as for the three finishes of the heat model
TAU_LO, TAU_HI = 4.0, 500.0

METAL = {"ss304": "stainless304", "ss316": "stainless316", "mild": "mild_steel", "tool": "tool_steel", "ti2": "titanium", "al": "aluminium", "brass": "brass", "cu": "copper"}
SS430 = rm.Metal(2.2, 0.93, 0.045, 14.0, 25.0, 6.2, 4.0e-3, 1430, 10.4, 0.40, 1.5, 700)
SPREAD = {"ss304": 1.5, "ss316": 1.5, "ss430": 2.0, "mild": 1.5, "tool": 1.5, "ti2": 1.5, "al": 2.0, "brass": 1.5, "cu": 2.5}   # factor either way on depth
COATS = {"powder_coat": "powder_coat_steel", "paint": "paint_steel", "anodised": "anodised_al"}
T_COAT = {"powder_coat": 673.0, "paint": 673.0, "anodised": 1295.0}    # K at which the coat decomposes or its ground lets go
S_COAT, S_MARK, S_DONE, S_TINT = 0.42, 0.25, 0.50, 0.25

EFFECTS = ("no mark", "tint", "colour", "dark", "melts", "polishes", "cleans", "frosts", "removes", "through")
COAT_EFFECTS = ("coat kept", "bleaches", "darkens", "partly strips", "strips clean", "strips, marks the metal")
COMPOUND_EFFECTS = ("no bond", "under-fused", "bonds", "over-burns", "blown off", "frosts")


def finish_of(name: str) -> Tuple[float, float]:
    return BLASTED if name == "blasted" else ac.FINISH[name]


ac.FINISH.setdefault("blasted", BLASTED)     # the program has this finish; the older vectors never use it


@dataclass(frozen=True)
class Stock:
    metal: str = "ss304"
    finish: str = "standard"       # mirror, standard, brushed, blasted
    thickness_mm: float = 2.0
    cover: str = "none"            # none, nickel, clear, powder_coat, paint, anodised, anodised_natural
    cover_um: float = 0.0          # 0 = the usual thickness
    t_start_c: float = 20.0
    line_length_mm: float = 10.0
    area_mm2: float = 100.0
    clamped: bool = False          # flat on a metal bed


@dataclass(frozen=True)
class Run:
    clean_every: int = 0           # cleaning pass after so many passes, 0 = never
    focus_every: int = 0
    focus_step_mm: float = 0.0
    width_mm: float = 10.0         # narrowest width of the cut


@dataclass(frozen=True)
class Evidence:
    """What was measured. A point is (power W, pulse width ns, frequency kHz, speed mm/s, spot um)."""
    k_gain: float = 1.0
    k_cal: float = 1.0
    film_points: Tuple[Tuple[float, float, float, float, float], ...] = ()
    film_fit: float = 0.0          # standard error of ln(growth gain)
    depth_points: Tuple[Tuple[float, float, float, float, float], ...] = ()
    depth_fit: float = 0.0         # standard error of ln(depth gain)
    k_coat: float = 1.0            # measured over predicted threshold of the coat
    coat_points: Tuple[Tuple[float, float, float, float, float], ...] = ()
    coat_fit: float = 0.0          # standard error of ln(k_coat)


# ---------------------------------------------------------------- small helpers
def phi(z: float) -> float:
    """Normal distribution function, cut at five standard deviations so that tails do not depend on rounding."""
    return 0.0 if z <= -5.0 else 1.0 if z >= 5.0 else 0.5 * (1.0 + math.erf(z / math.sqrt(2.0)))


def over(value: float, limit: float, spread: float) -> float:
    """Share of the outcomes in which value exceeds limit; spread of ln value. [J2]"""
    if value <= 0.0:
        return 0.0
    return phi(math.log(value / limit) / spread)


def clamp(v: float, lo: float, hi: float) -> float:
    return min(max(v, lo), hi)


# ---------------------------------------------------------------- bands [J8]
FILM_SLOPES = (0.15, 0.10, 0.15, 0.10, 0.25)    # ln spread of the thickness per ln of power, width, frequency, speed, spot
DEPTH_SLOPES = (0.20, 0.25, 0.20, 0.10, 0.30)
COAT_SLOPES = (0.15, 0.20, 0.15, 0.10, 0.20)
GAIN_FLOOR = 0.10                               # a gain is never known better than this


def distance(points, at, slopes) -> float:
    """Spread by distance: the nearest measured point counts."""
    return min(math.sqrt(sum((s * math.log(a / b)) ** 2 for s, a, b in zip(slopes, at, p))) for p in points)


def gain_error(ln_gains: List[float]) -> float:
    """Standard error of the median of the cells' own ln gains, never below the floor; one cell alone is known to 30 %."""
    n = len(ln_gains)
    if n < 3:
        return max(GAIN_FLOOR, 0.30)
    mid = median(ln_gains)
    return max(GAIN_FLOOR, 1.2533 * 1.4826 * median([abs(g - mid) for g in ln_gains]) / math.sqrt(n))


def median(v: List[float]) -> float:
    s = sorted(v)
    return 0.5 * (s[(len(s) - 1) // 2] + s[len(s) // 2])


def film_spread(ev: Evidence, at) -> float:
    """ln spread of the film thickness."""
    if not ev.film_points:
        return S_FILM
    return min(S_FILM, math.hypot(0.5 * max(ev.film_fit, GAIN_FLOOR), distance(ev.film_points, at, FILM_SLOPES)))


def depth_spread(metal: str, ev: Evidence, at) -> float:
    """ln spread of the depth."""
    base = math.log(SPREAD[metal])
    if not ev.depth_points:
        return base
    return min(base, math.hypot(max(ev.depth_fit, GAIN_FLOOR), distance(ev.depth_points, at, DEPTH_SLOPES)))


def coat_spread(ev: Evidence, at) -> float:
    """ln spread of the threshold of a coat."""
    if not ev.coat_points:
        return S_COAT
    return min(S_COAT, math.hypot(max(ev.coat_fit, GAIN_FLOOR), distance(ev.coat_points, at, COAT_SLOPES)))


# ---------------------------------------------------------------- one crater and one pass [J3, J4]
def removal_metal(metal: str) -> rm.Metal:
    return SS430 if metal == "ss430" else rm.METALS[METAL[metal]]


def start_factor(metal: str, t_start_c: float) -> float:
    """Share of the cold boiling enthalpy that a warm part still needs."""
    m = ac.MATERIALS[metal]
    top = m.t_vap + m.lc
    return (top - t_start_c - 273.15) / (top - 293.15)


@dataclass(frozen=True)
class Crater:
    n_area: float; n_spot: float; p: rm.Pulse
    f1: float          # single-pulse threshold, with finish and start temperature
    areal: float
    overlap: float     # smaller of pulse and line overlap of the craters
    over_single: float  # Fe / f1
    fresh: float       # um per pass before recast


def crater(metal: str, l: rm.Laser, d: float, speed: float, hatch: float, fin: float, t_start_c: float, k_cal: float) -> Crater:
    """As removal.one_pass, with thresholds that know the finish (until the first pulses have changed it) and the start temperature."""
    m = removal_metal(metal)
    warm = start_factor(metal, t_start_c)
    n_area = l.freq * 1e3 / (speed * hatch)
    ln = 2.0
    for _ in range(12):
        n = max(1.0, n_area * 1e-6 * math.pi / 8.0 * d * d * max(ln, 0.5))
        scale = warm * fin ** (-1.0 / n)
        p = rm.pulse(replace(m, f1=m.f1 * scale), l.energy, d, l.tau, n)
        ln = p.ln
    f1 = m.f1 * scale * math.sqrt(l.tau / rm.TAU_REF)
    dia = max(p.dia, 0.05 * d)
    ov = min(1.0 - speed / l.freq / dia, 1.0 - hatch * 1e3 / dia)
    return Crater(n_area, n, p, f1, l.avg / (speed * hatch), ov, p.fe / f1, n_area * 1e-6 * p.vol * k_cal)


def recast_near(over_single: float, tau: float) -> float:
    """Share of the loosened volume that freezes in place: 30 % (short) .. 80 % (long pulses) at the single-pulse threshold, none far above. [J3.2]"""
    r0 = CAST_SHORT + (CAST_LONG - CAST_SHORT) * tau / (tau + CAST_NS)
    return r0 * math.exp(-max(0.0, over_single - 1.0) / CAST_L)


def recast_pass(n_spot: float) -> float:
    """Share that later pulses of the same pass catch again. [J4.1]"""
    n = max(0.0, n_spot - 1.0)
    return CAST_PASS * n / (n + CAST_N)


def groove(z_um: float, dia_um: float) -> float:
    """Depth of one pass whose own walls hinder it: z solves z + K z^2/(2 D) = depth without walls. [J4.2]"""
    if z_um <= 0.0 or dia_um <= 0.0:
        return 0.0
    q = K_GROOVE / dia_um
    return 2.0 * z_um / (1.0 + math.sqrt(1.0 + 2.0 * q * z_um))


def debris(since: float, dz: float) -> float:
    """Mean efficiency while dz is removed on top of `since` um since the last cleaning. [J4.3]"""
    u = dz / rm.Z_DEBRIS
    mean = 1.0 - 0.5 * u if u < 1e-6 else (1.0 - math.exp(-u)) / u
    return rm.ETA_DEBRIS + (1.0 - rm.ETA_DEBRIS) * math.exp(-since / rm.Z_DEBRIS) * mean


def net_pass(c: Crater, tau: float, since: float, shade: float, zr: float) -> float:
    """Net depth of one pass if the surface is carried away, um."""
    z1 = c.fresh * (1.0 - recast_near(c.over_single, tau)) * (1.0 - recast_pass(c.n_spot)) * shade
    if z1 <= 0.0:
        return 0.0
    first = groove(z1 * debris(since, 0.0), c.p.dia)
    z = groove(z1 * debris(since, first), c.p.dia)
    return z / (1.0 + (0.5e-3 * z / zr) ** 2)


def walk(metal, l, b, st: Settings, run: Run, fin, t_start_c, k_cal, stop_um) -> List[float]:
    """Cumulative depth after 0, 1 .. passes; the finish acts on the first pass only. Stops at stop_um or when stalled. [J4.4]"""
    z = since = foc = 0.0
    out = [0.0]
    for i in range(1, int(st.passes) + 1):
        d = b.d(st.focus_mm + z * 1e-3 - foc)
        c = crater(metal, l, d, st.speed_mm_s, st.hatch_mm, fin if i == 1 else 1.0, t_start_c, k_cal)
        dz = net_pass(c, l.tau, since, 1.0 / (1.0 + rm.K_ASPECT * z * 1e-3 / run.width_mm), b.zr)
        z += dz
        since += dz
        out.append(z)
        if z >= stop_um or dz < 1e-4:
            break
        if run.clean_every and i % run.clean_every == 0:
            since *= rm.CLEAN_RESIDUE
        if run.focus_every and i % run.focus_every == 0:
            foc += run.focus_step_mm
    return out


# ---------------------------------------------------------------- floor over passes [J6]
def areal_since(areal: float, passes: int, clean_every: int) -> float:
    """Areal energy that has powdered the floor since the last cleaning pass, which leaves its residue; a cleaning after the very last pass is not counted."""
    if not clean_every:
        return areal * passes
    full, rest = divmod(passes - 1, clean_every)
    block = areal * clean_every
    r = rm.CLEAN_RESIDUE
    left = block * r * (1.0 - r ** full) / (1.0 - r)
    return left + areal * (rest + 1)


def stages(metal: str, areal: float, depths: List[float], clean_every: int) -> Dict[str, Optional[int]]:
    """Pass from which the floor is dark powder, from which the shape is seen, from which it is clear; None = not in this run."""
    e_dark = removal_metal(metal).e_dark
    n = len(depths) - 1
    dark = next((i for i in range(1, n + 1) if areal_since(areal, i, clean_every) >= e_dark), None)
    emerge = next((i for i in range(1, n + 1) if depths[i] >= rm.Z_EMERGE), None)
    clear = next((i for i in range(1, n + 1) if depths[i] >= 2.5 * rm.Z_EMERGE), None)
    if dark is not None and emerge is not None and dark >= emerge:
        dark = None
    return {"dark_from": dark, "emerges_at": emerge, "clear_at": clear}


def stage_at(metal: str, areal: float, depth_um: float, passes: int, clean_every: int) -> str:
    return rm.stage("stainless304" if metal == "ss430" else METAL[metal], depth_um, areal_since(areal, passes, clean_every))


# ---------------------------------------------------------------- shares of the effects on bare metal [J5]
@dataclass(frozen=True)
class Facts:
    """Numbers from which the shares follow."""
    film_nm: float; film_pass_nm: float; s_film: float
    melt: float                    # melt index whose 1 is 'fully molten between pulses'
    heat_index: float
    boil: float                    # larger of boiling ratio and fluence over single-pulse threshold
    log_ratio: float; crater_nm: float     # of one pulse, net
    lift_nm: float; overlap: float; areal: float; e_dark: float
    depth_um: float; s_depth: float; stock_um: float
    tint_nm: float; colour_nm: float; dark_nm: float; oxide: bool
    rise: float                    # rise between pulses over the rise that tarnishes a metal without film model


def share_away(f: Facts) -> Dict[str, float]:
    """Weights of the floor, and the share in which the old surface with its film is carried away. [J5.1]"""
    boils = over(f.boil, 1.0, S_BOIL)
    lift = math.sqrt(f.film_pass_nm ** 2 + f.lift_nm ** 2 + 1.0)
    torn = boils * over(f.crater_nm, lift, S_TORN) * phi((f.log_ratio - L_SEEN) / S_SEEN)
    merged = phi((f.overlap - OVER) / S_OVER)
    dark = over(f.areal, f.e_dark, S_DARK)
    frost = phi((f.log_ratio - L_APART - (L_MERGED - L_APART) * merged) / S_FROST) * (1.0 - dark)
    heat = over(f.heat_index, 1.0, S_HEAT)
    seen = frost * boils * phi((f.log_ratio - L_SEEN) / S_SEEN) * (over(f.crater_nm, f.lift_nm, S_TORN) if f.lift_nm > 0 else 1.0)
    return {"boils": boils, "torn": torn, "merged": merged, "dark": dark, "frost": frost, "heat": heat, "away": max(torn, heat, seen)}


def shares(f: Facts, w: Dict[str, float]) -> Dict[str, float]:
    """Share of every effect; they add up to 1. [J5.2]"""
    s = dict.fromkeys(EFFECTS, 0.0)
    away = w["away"]
    deep = min(away, max(w["torn"] * over(f.depth_um, DEEP_UM, f.s_depth), w["heat"]))
    s["through"] = deep * over(f.depth_um, f.stock_um, f.s_depth)
    cut = deep - s["through"]
    frost = cut * w["frost"] * (1.0 - over(f.depth_um, FROST_UM, f.s_depth))
    s["removes"] = cut - frost
    shallow = away - deep
    s["frosts"] = frost + shallow * w["frost"]
    rest = shallow * (1.0 - w["frost"])
    s["dark" if f.oxide else "removes"] += rest * w["dark"]      # a dark floor: on a metal without film a shallow dark engraving
    s["polishes"] = rest * (1.0 - w["dark"]) * w["merged"]
    s["cleans"] = rest * (1.0 - w["dark"]) * (1.0 - w["merged"])
    s["melts"] = (1.0 - away) * over(f.melt, 1.0, S_MELT)
    left = (1.0 - away) - s["melts"]
    if not f.oxide:
        s["tint"] = left * over(f.rise, 1.0, S_TINT)
        s["no mark"] = left - s["tint"]
        return s
    a, b, c = (over(f.film_nm, x, f.s_film) for x in (f.tint_nm, f.colour_nm, f.dark_nm))
    s["no mark"] = left * (1.0 - a)
    s["tint"] = left * (a - b)
    s["colour"] = left * (b - c)
    s["dark"] += left * c
    return s


def leading(s: Dict[str, float]) -> str:
    return max(s, key=lambda k: s[k])          # first one on ties, in the order of EFFECTS


def told(s: Dict[str, float], least: float = 0.05) -> str:
    """'dark 83 %, melts 17 %'"""
    rows = sorted(s.items(), key=lambda e: -e[1])
    return ", ".join(f"{k} {100 * v:.0f} %" for k, v in rows if v >= least)


_BARE: Dict[str, Tuple[float, float, float]] = {}


def bare_lab(metal: str) -> Tuple[float, float, float]:
    if metal not in _BARE:
        _BARE[metal] = ac._colour(0.0, ac.surface_reflectance(0.0, 0.0, ac.MATERIALS[metal])).lab
    return _BARE[metal]


def expected_look(s: Dict[str, float], film_l: float, bare_l: float, dark_floor: float) -> Tuple[Optional[float], Optional[float]]:
    """Share-weighted L* and its spread; a hole has no look. [J7]"""
    rows = []
    for k, v in s.items():
        if k in ("no mark", "tint", "colour", "dark", "melts"):
            rows.append((v, film_l, 0.0))
        elif k in ("polishes", "cleans", "frosts"):
            rows.append((v, bare_l, 6.0))
        elif k == "removes":
            rows.append((v * dark_floor, DARK_L, DARK_SPREAD))
            rows.append((v * (1.0 - dark_floor), bare_l, 8.0))
    total = sum(v for v, _, _ in rows)
    if total < 1e-6:
        return None, None
    mean = sum(v * l for v, l, _ in rows) / total
    return mean, math.sqrt(sum(v * ((l - mean) ** 2 + d * d) for v, l, d in rows) / total)


# ---------------------------------------------------------------- plate [J9]
def plate(metal: str, power: float, st_speed: float, hatch: float, thickness: float, area: float, clamped: bool, depth_hi_um: float, h: ac.Result, src_w_um: float,
          moving_in_rest: float) -> Dict[str, float]:
    """One burn index from the upper end of the depth band and the heat."""
    m, mat = removal_metal(metal), ac.MATERIALS[metal]
    side = math.sqrt(area)
    loss = 300.0 if clamped else 60.0
    q = m.a_heat * power
    ad = q / (st_speed * hatch * m.rho_c * thickness)
    fin = q / (2.0 * side * 1e-3 * math.sqrt(m.k * thickness * 1e-3 * loss))
    dt = ad * fin / (ad + fin)
    left = max(0.02 * thickness, thickness - depth_hi_um * 1e-3)
    w = src_w_um * 1e-6
    reach = w + math.sqrt(mat.k_hot / mat.rc_hot * 2 * w / (st_speed * 1e-3))
    skin = (h.dt_lines + h.dt_passes + moving_in_rest) / (mat.t_melt - h.t0) * math.exp(-left * 1e-3 / reach)
    burn = depth_hi_um * 1e-3 / (LEFT * thickness) + max(dt / m.t_melt, skin)
    return {"burn_index": burn, "plate_rise_k": dt}


# ---------------------------------------------------------------- findings [J10]
def findings(src: Source, st: Settings) -> List[str]:
    """What a person must hear before any number: codes."""
    out = []
    tau = src.tau_fixed_ns if src.kind == "fixed" else st.pulse_ns
    if src.kind == "fixed" and st.pulse_ns > 0 and abs(math.log(st.pulse_ns / src.tau_fixed_ns)) > 0.02:
        out.append("recipe.width_fixed")
    if not TAU_LO <= tau <= TAU_HI:
        out.append("model.width_clamped")
    if st.freq_khz > 500:
        out.append("model.plume_between_pulses")
    return out


# ---------------------------------------------------------------- coats under a pulsed fibre source [J11.1]
def coat_outcome(metal: str, cover: str, cover_um: float, l: rm.Laser, b: rm.Beam, st: Settings, fin: float, t_start_c: float, k_coat: float = 1.0, s_coat: float = S_COAT) -> Dict[str, object]:
    c = rm.COATINGS[COATS[cover]]
    m = removal_metal(metal)
    th = cover_um if cover_um > 0 else c.thickness
    d = b.d(st.focus_mm)
    n_area = l.freq * 1e3 / (st.speed_mm_s * st.hatch_mm)
    n = max(1.0, n_area * 1e-6 * math.pi / 4 * d * d)
    f0 = rm.peak_fluence(l.energy, d)
    warm = max(0.2, (T_COAT[cover] - t_start_c - 273.15) / (T_COAT[cover] - 293.15))
    fc = rm.incubated(c.f1 * k_coat * warm * (l.tau / rm.TAU_REF) ** c.tau_exp, c.s, n)
    fm = rm.R_MARK * rm.incubated(m.f1 * start_factor(metal, t_start_c) / fin * math.sqrt(l.tau / rm.TAU_REF), m.s, n)
    fb = rm.incubated(c.f_bleach * k_coat * warm * math.sqrt(l.tau / rm.TAU_REF), c.s, n) if c.f_bleach > 0 else 0.0
    ln = max(0.0, math.log(f0 / fc))
    depth = n_area * 1e-6 * math.pi / 16 * d * d * c.delta * ln * ln
    a = d * 1e-6 / (2 * math.sqrt(2.0))
    dt = m.a_heat * l.avg / (2 * math.sqrt(math.pi) * m.k * a) / math.sqrt(1.0 + 0.533 * st.speed_mm_s * 1e-3 * a / (m.kappa * 1e-6))
    tint = dt / m.dt_tint
    p_coat = over(f0, fc, s_coat)
    p_bleach = over(f0, fb, s_coat) if fb > 0 else 0.0
    p_mark = max(over(f0, fm, S_MARK), over(tint, 1.0, S_TINT))
    p_done = over(depth * st.passes, th, S_DONE)
    s = dict.fromkeys(COAT_EFFECTS, 0.0)
    s["coat kept"] = (1 - p_coat) * (1 - p_bleach)
    s["bleaches"] = (1 - p_coat) * p_bleach
    s["strips, marks the metal"] = p_coat * p_mark
    s["strips clean"] = p_coat * (1 - p_mark) * p_done
    s["partly strips"] = p_coat * (1 - p_mark) * (1 - p_done)
    passes = max(1, math.ceil(th / depth)) if depth > 0.01 else None
    return {"effect": leading(s), "shares": s, "fluence": f0, "coat_threshold": fc, "metal_threshold": fm, "coat_depth_um": depth, "passes_to_strip": passes, "tint": tint}


# natural (undyed) anodised film: dark mark by many short pulses at high frequency [J11.3]
BLACK_LO, BLACK_HI, BLACK_NS, BLACK_N, BLACK_TAU = 0.9, 5.0, 25.0, 150.0, 0.2
S_BLACK, S_BLACK_NS, S_BLACK_N = 0.42, 0.35, 0.70


def black_anodise(l: rm.Laser, d_um: float, speed: float, hatch: float, passes: int, t_start_c: float = 20.0) -> Dict[str, object]:
    """Dark between the fluence that alters the ground and the one that breaks the film; short pulses, many of them."""
    f0 = rm.peak_fluence(l.energy, d_um)
    warm = max(0.2, (1295.0 - t_start_c - 273.15) / (1295.0 - 293.15))
    low, high = BLACK_LO * warm * math.sqrt(l.tau / 10.0), BLACK_HI * warm * (l.tau / 10.0) ** BLACK_TAU
    n = passes * l.freq * 1e3 / (speed * hatch) * 1e-6 * math.pi / 4 * d_um * d_um
    p_on = over(f0, low, S_BLACK)
    p_break = over(f0, high, S_BLACK)
    p_short = over(BLACK_NS, l.tau, S_BLACK_NS)
    p_many = over(n, BLACK_N, S_BLACK_N)
    s = dict.fromkeys(COAT_EFFECTS, 0.0)
    s["strips, marks the metal"] = p_break
    s["darkens"] = max(0.0, p_on - p_break) * p_short * p_many
    s["coat kept"] = 1.0 - p_break - s["darkens"]
    look = 82.0 - 47.0 * (1.0 - math.exp(-n / (2.0 * BLACK_N)))
    return {"effect": leading(s), "shares": s, "fluence": f0, "low": low, "high": high, "pulses_per_spot": n, "l_star": look if s["darkens"] > 0.05 else None}


# ---------------------------------------------------------------- coats under a gas laser, 10.6 um [J11.2]
@dataclass(frozen=True)
class GasCoat:
    depth_um: float        # 1/e absorption length at 10.6 um
    absorbed: float        # not reflected
    start_k: float         # rise at which it decomposes or bleaches
    rho_c: float           # J/(mm3 K)
    volume_j_mm3: float    # heat to remove a volume, 0 = the film stays
    usual_um: float


GAS_COATS = {"powder_coat": GasCoat(25.0, 0.90, 380.0, 2.0e-3, 6.0, 80.0), "paint": GasCoat(20.0, 0.90, 330.0, 1.9e-3, 5.0, 35.0),
             "anodised": GasCoat(8.0, 0.80, 450.0, 2.6e-3, 0.0, 12.0)}
GAS_METAL = 0.08       # absorptance of bare metal at 10.6 um
GAS_BLEACH = 10.0       # dye bleaches from this multiple of the dose that heats the skin: the ground drinks most of it
S_GAS, S_GAS_DONE = 0.42, 0.50


def gas_coat(metal: str, cover: str, cover_um: float, power: float, spot_mm: float, speed: float, hatch: float, passes: int, t_start_c: float = 20.0) -> Dict[str, object]:
    """A coat takes the beam, the metal under it reflects what is left."""
    if cover == "anodised_natural":
        return {"effect": None, "shares": None, "reason": "a white mark in a clear anodised film is not modelled"}
    g, m = GAS_COATS[cover], removal_metal(metal)
    th = cover_um if cover_um > 0 else g.usual_um
    taken = g.absorbed * (1.0 - math.exp(-th / g.depth_um))
    dose = power / (speed * hatch)
    skin = min(th, g.depth_um) * 1e-3
    first = g.rho_c * max(50.0, g.start_k - (t_start_c - 20.0)) * skin / taken      # J/mm2 that brings the skin to decomposition
    need = first + g.volume_j_mm3 * th * 1e-3 / taken if g.volume_j_mm3 > 0 else None      # J/mm2 that takes the whole coat
    spare = max(0.0, 1.0 - need / (dose * passes)) if need else 1.0                        # share of the beam time in which the metal is bare
    a = spot_mm * 1e-3 / (2 * math.sqrt(2.0))
    dt = spare * GAS_METAL * power / (2 * math.sqrt(math.pi) * m.k * a) / math.sqrt(1.0 + 0.533 * speed * 1e-3 * a / (m.kappa * 1e-6))
    tint = dt / m.dt_tint
    s = dict.fromkeys(COAT_EFFECTS, 0.0)
    depth = None
    if g.volume_j_mm3 > 0:
        depth = 1e3 * taken * max(0.0, dose - first) / g.volume_j_mm3
        p_on = over(dose, first, S_GAS)
        p_done = over(depth * passes, th, S_GAS_DONE)
        p_mark = over(tint, 1.0, S_TINT)
        s["coat kept"] = 1 - p_on
        s["partly strips"] = p_on * (1 - p_done)
        s["strips clean"] = p_on * p_done * (1 - p_mark)
        s["strips, marks the metal"] = p_on * p_done * p_mark
    else:
        p_on = over(dose, GAS_BLEACH * first, S_GAS)
        s["bleaches"] = p_on
        s["coat kept"] = 1 - p_on
    low = first + g.volume_j_mm3 * th * 1e-3 / (taken * passes) if g.volume_j_mm3 > 0 else GAS_BLEACH * first
    passes_need = max(1, math.ceil(th / depth)) if depth and depth > 0.01 else None
    depth = None if depth is None else min(depth, th)
    return {"effect": leading(s), "shares": s, "dose": dose, "first_dose": first, "dose_to_finish": low, "coat_depth_um": depth, "passes_to_strip": passes_need, "tint": tint, "reason": None}


def gas_bare() -> Dict[str, object]:
    return {"effect": None, "shares": None, "reason": "bare metal reflects 10.6 um; no effect is modelled"}


# ---------------------------------------------------------------- compound under a pulsed source [J11.4]
FILM_F1, FILM_TAU, FILM_S, S_BLOW = 1.20, 0.30, 0.94, 0.55
FIBRE_DEPTH = {"ceramic": 0.7, "molybdenum": 1.1}       # optical thickness of a coat at 1064 nm, as in bench-math


def compound_pulse(metal: str, compound: str, coats: float, l: rm.Laser, d_um: float, speed: float, hatch: float, base: Dict[str, float], fin: float = 1.0, t_start_c: float = 20.0) -> Dict[str, object]:
    """base: shares of 'no bond', 'under-fused', 'bonds', 'over-burns' from the compound model; a pulse above the film's threshold blows it off, above the metal's it frosts."""
    m = removal_metal(metal)
    n = max(1.0, l.freq * 1e3 / (speed * hatch) * 1e-6 * math.pi / 4 * d_um * d_um)
    f0 = rm.peak_fluence(l.energy, d_um)
    ff = rm.incubated(FILM_F1 * (l.tau / rm.TAU_REF) ** FILM_TAU, FILM_S, n)
    fm = rm.R_MARK * rm.incubated(m.f1 * start_factor(metal, t_start_c) / fin * math.sqrt(l.tau / rm.TAU_REF), m.s, n)
    p_off = over(f0, ff, S_BLOW)
    p_mark = min(p_off, over(f0, fm, S_MARK))
    s = dict.fromkeys(COMPOUND_EFFECTS, 0.0)
    for k, v in base.items():
        s[k] += (1 - p_off) * v
    s["frosts"] += p_mark
    s["blown off"] += p_off - p_mark
    return {"effect": leading(s), "shares": s, "fluence": f0, "film_threshold": ff, "metal_threshold": fm}


# ---------------------------------------------------------------- transfer [J10.2]
FLUENCE_FREE, FLUENCE_CLOSE = 1.2, 2.0


def transfer_fluence(process: str, metal: str, f_before: float, f_after: float, tau_after: float, n_after: float) -> Dict[str, object]:
    """One-sided: a lower pulse fluence is no fault of an anneal or a compound, a higher one is. Returns ratio, verdict and what the pulses do there."""
    ratio = f_after / f_before
    m = removal_metal(metal)
    if process == "compound":
        limit = rm.incubated(FILM_F1 * (tau_after / rm.TAU_REF) ** FILM_TAU, FILM_S, n_after)
    else:
        limit = rm.threshold(m, clamp(tau_after, TAU_LO, TAU_HI), 1.0)
    above = over(f_after, limit, S_BLOW if process == "compound" else S_BOIL)
    if process not in ("anneal", "compound") or ratio <= FLUENCE_FREE:
        verdict = "kept"
    elif above > 0.5 or (ratio > FLUENCE_CLOSE and above > 0.16):
        verdict = "new proof sheet needed"
    else:
        verdict = "close"
    return {"ratio": ratio, "limit": limit, "share_above": above, "verdict": verdict}


# ---------------------------------------------------------------- the joined answer [J13]
@dataclass(frozen=True)
class _Heat:
    dt_lines: float; dt_passes: float; t0: float


def outcome(src: Source, opt: Optics, st: Settings, stock: Stock = Stock(), run: Run = Run(), ev: Evidence = Evidence()) -> Dict[str, object]:
    """What a person is told about one setting."""
    mat = ac.MATERIALS[stock.metal]
    fin = finish_of(stock.finish)[0]
    coated = stock.cover in COATS or stock.cover == "anodised_natural"
    work = ac.Work(stock.metal, stock.finish, stock.thickness_mm, stock.line_length_mm, stock.area_mm2, stock.t_start_c, "clear" if coated else stock.cover, ev.k_gain)
    h = ac.predict(src, opt, st, work, angles=(0.0,))
    tau = src.tau_fixed_ns if src.kind == "fixed" else st.pulse_ns
    power = h.p_avg_w
    b = rm.Beam(opt.f_lens_mm, opt.beam_d_mm, opt.m2, opt.wavelength_nm * 1e-3)
    at = (power, tau, st.freq_khz, st.speed_mm_s, h.spot_um)

    # the crater model inside its range; what was clamped widens the band [J3.3]
    l = rm.Laser(clamp(power, 0.1, 500.0), clamp(st.freq_khz, 1.0, 4000.0), clamp(tau, TAU_LO, TAU_HI))
    wide = WIDE_TAU * (abs(math.log(tau / l.tau)) + abs(math.log(power / l.power)) + abs(math.log(st.freq_khz / l.freq)))
    out: Dict[str, object] = {"findings": findings(src, st), "reason": None}
    if coated:
        if stock.cover == "anodised_natural":
            r = black_anodise(l, h.spot_um, st.speed_mm_s, st.hatch_mm, st.passes, stock.t_start_c)
        else:
            r = coat_outcome(stock.metal, stock.cover, stock.cover_um, l, b, st, fin, stock.t_start_c, ev.k_coat, math.hypot(coat_spread(ev, at), wide))
        out.update(r)
        out.update(told=told(r["shares"]), film_nm=None, depth_um=None, reason="film and depth of the metal under a coat are not modelled")
        return out

    s_film, s_depth = film_spread(ev, at), math.hypot(depth_spread(stock.metal, ev, at), wide)
    c = crater(stock.metal, l, h.spot_um, st.speed_mm_s, st.hatch_mm, fin, stock.t_start_c, ev.k_cal)
    grown = h.t_eff_s * float(ac.growth_constant(mat.t_melt, mat, ev.k_gain * ac.COATING[stock.cover])) if mat.oxide else 0.0
    film_pass = min(math.sqrt(ac.MODEL.x_native ** 2 + grown / st.passes), ac.MODEL.x_max) * 1e9 if mat.oxide else 0.0
    stock_um = stock.thickness_mm * 1e3
    factor = math.exp(s_depth)
    steps = walk(stock.metal, l, b, st, run, fin, stock.t_start_c, ev.k_cal, 4.0 * stock_um) if c.p.ln > 0 else [0.0, 0.0]
    lo_hi = [walk(stock.metal, l, b, st, run, fin, stock.t_start_c, ev.k_cal * q, 4.0 * stock_um)[-1] for q in (1.0 / factor, factor)] if steps[-1] > 0 else [0.0, 0.0]
    t0 = stock.t_start_c + 273.15
    half, full = mat.t_melt + 0.5 * mat.lc - t0, mat.t_melt + mat.lc - t0
    areal = areal_since(c.areal, st.passes, run.clean_every)
    f = Facts(film_nm=h.oxide_nm, film_pass_nm=film_pass, s_film=s_film, melt=h.melt_index * half / full, heat_index=h.removal_index, boil=max(h.abl_ratio, c.over_single),
              log_ratio=c.p.ln, crater_nm=c.p.depth * 1e3 * (1.0 - recast_near(c.over_single, l.tau)) * ev.k_cal, lift_nm=LIFT_NM[stock.cover], overlap=c.overlap,
              areal=areal, e_dark=removal_metal(stock.metal).e_dark, depth_um=steps[-1], s_depth=s_depth, stock_um=stock_um,
              tint_nm=ac.MODEL.x_tint * 1e9, colour_nm=mat.x_col * 1e9, dark_nm=mat.x_dark * 1e9, oxide=mat.oxide is not None, rise=(h.t_between - t0) / removal_metal(stock.metal).dt_tint)
    w = share_away(f)
    s = shares(f, w)
    away = w["away"]
    likely, hi = min(f.depth_um, stock_um), min(max(lo_hi), stock_um)
    depth = away * likely
    film_l = h.sci[0].lab[0]
    look, spread = expected_look(s, film_l, bare_lab(stock.metal)[0], w["dark"])
    rest_h = max(0.02 * stock.thickness_mm, stock.thickness_mm - away * hi * 1e-3) * 1e-3
    p_heat = h.absorptance * power * h.heat_kept
    line = stock.line_length_mm * 1e-3 if st.hatch_angle_deg == 0 else _line(st, stock)
    moving = ac.moving_spot_rise(p_heat, 0.5e-6 * h.spot_um, st.speed_mm_s * 1e-3, rest_h, mat.k_hot, mat.k_hot / mat.rc_hot, line / (st.speed_mm_s * 1e-3))
    pl = plate(stock.metal, power, st.speed_mm_s, st.hatch_mm, stock.thickness_mm, stock.area_mm2, stock.clamped, away * hi, _Heat(h.dt_lines, h.dt_passes, t0), 0.5 * h.spot_um, moving)
    first = net_pass(c, l.tau, 0.0, 1.0, b.zr)
    effect = leading(s)
    warnings = [x.split(":")[0] for x in h.warnings if x.split(":")[0] not in ("W_BURN", "W_COLOUR_INVALID")]
    if pl["burn_index"] > 1:
        warnings.append("W_BURN")
    if s["melts"] + s["removes"] + s["frosts"] + s["through"] > 0.5 and mat.oxide:
        warnings.append("W_COLOUR_INVALID")
    if mat.oxide is None:
        out["reason"] = "tarnish is expected, its colour is not modelled on this metal" if s["tint"] > 0.05 else "no film is modelled on this metal"
    out.update(
        effect=effect, shares=s, told=told(s), film_nm=h.oxide_nm if mat.oxide else None, s_film=s_film, film_name=h.sci[0].name if mat.oxide else None, film_lab=list(h.sci[0].lab),
        l_star=look, l_spread=spread, share_away=away, depth_um=depth, depth_if_um=likely, depth_least_um=min(min(lo_hi), stock_um) * away, depth_most_um=hi * away, s_depth=s_depth,
        first_pass_um=first, rate_mm3_min=first * 1e-3 * st.speed_mm_s * st.hatch_mm * 60.0, removal_index=max(h.removal_index, away * f.depth_um / DEEP_UM), melt=f.melt,
        floor=floor_word(f, w), stages=stages(stock.metal, c.areal, [min(z, stock_um) for z in steps], run.clean_every), warp_index=h.warp_index, burn_index=pl["burn_index"],
        plate_rise_k=pl["plate_rise_k"], crater_um=c.p.dia, log_ratio=c.p.ln, fluence=h.fluence_j_cm2, dose=h.dose_j_mm2, time_s=h.time_s, warnings=warnings)
    return out


def _line(st: Settings, stock: Stock) -> float:
    a = math.radians(st.hatch_angle_deg)
    across = stock.line_length_mm * abs(math.sin(a)) + stock.area_mm2 / stock.line_length_mm * abs(math.cos(a))
    return stock.area_mm2 / across * 1e-3


def floor_word(f: Facts, w: Dict[str, float]) -> str:
    """Look of the floor after the last pass: the heaviest of its weights. [J6.1]"""
    if f.log_ratio <= 0:
        return "untouched" if f.film_nm < f.tint_nm else "tinted or molten"
    r = 1.0 - w["frost"] - w["dark"]
    rows = {"dark powder": w["dark"], "pale, frosted": w["frost"], "bright, polished": r * w["merged"], "lightly cleaned": r * (1.0 - w["merged"])}
    return max(rows, key=lambda k: rows[k])
