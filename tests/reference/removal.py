# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""removal.py - reference model of material removal by a ns pulsed 1064 nm fibre laser with galvo.

Pure functions, no I/O, no state, no random numbers but the integer hash. Units unless the name says otherwise: lengths um (spot, crater, depth) or mm (scan, focus, parts),
fluence J/cm2, pulse energy mJ, pulse width ns, frequency kHz, power W, time s, angle degrees.
Formulas: SPEC.md (section numbers in the docstrings).
"""
from __future__ import annotations
import math
from dataclasses import dataclass, replace
from typing import Dict, List, Optional, Sequence, Tuple
import numpy as np

N_CAP = 500.0          # incubation saturates after this many pulses on one spot
TAU_REF, TAU_MELT = 100.0, 60.0  # ns: reference width; width giving half of the melt-expulsion gain
Q_MELT = 12.0          # fluence (in units of F1) at which half of the gain is reached
D_MELT = 40.0          # um, spot at which radial melt expulsion has lost half its strength
FS_100 = 60.0          # J/cm2, plasma-shielding fluence at 100 ns
ETA_DEBRIS, Z_DEBRIS = 0.62, 80.0  # efficiency floor under debris, um of removal to build it (1/e)
CLEAN_RESIDUE = 0.2    # share of the debris left by one cleaning pass
K_ASPECT, TAPER_MIN = 0.35, 5.0    # plume confinement eff = 1/(1+K*depth/width); degrees
Z_EMERGE = 45.0        # um depth range at which a relief is seen through the dark powder
R_MARK = 0.70          # visible-mark threshold / ablation threshold of a bare metal
BAND = 1.5             # one-sigma-like factor on depth per pass (uncalibrated machine)

@dataclass(frozen=True)
class Metal:
    f1: float          # single-pulse ablation threshold at 100 ns, J/cm2
    s: float           # incubation exponent
    delta: float       # NET effective penetration depth per pulse at 100 ns, um
    gain: float        # maximum extra melt-expulsion gain
    k: float; kappa: float        # conductivity W/(m K), diffusivity mm2/s
    rho_c: float       # J/(mm3 K)
    t_melt: float; alpha: float   # K above room temperature, expansion 1e-6/K
    a_heat: float      # share of the average power that stays as heat
    e_dark: float      # J/mm2 of accumulated areal energy at which the mark looks dark
    dt_tint: float     # K rise (ms dwell) giving a visible heat tint

METALS: Dict[str, Metal] = {
    "stainless304": Metal(2.2, 0.93, 0.045, 14.0, 16.0, 4.0, 4.0e-3, 1400, 17.0, 0.40, 1.5, 750),
    "stainless316": Metal(2.2, 0.93, 0.044, 14.0, 15.0, 3.8, 4.0e-3, 1370, 16.5, 0.40, 1.5, 750),
    "mild_steel":   Metal(2.5, 0.93, 0.048, 14.0, 50.0, 13.0, 3.8e-3, 1500, 12.0, 0.40, 1.2, 500),
    "tool_steel":   Metal(2.3, 0.93, 0.045, 14.0, 25.0, 7.0, 3.7e-3, 1400, 11.0, 0.40, 1.2, 520),
    "aluminium":    Metal(4.5, 0.94, 0.115, 14.0, 200.0, 80.0, 2.45e-3, 640, 23.0, 0.25, 12.0, 1e9),
    "brass":        Metal(3.5, 0.94, 0.130, 14.0, 115.0, 34.0, 3.2e-3, 890, 20.0, 0.30, 1.0, 450),
    "copper":       Metal(8.0, 0.94, 0.120, 14.0, 390.0, 112.0, 3.45e-3, 1064, 17.0, 0.20, 3.0, 400),
    "titanium":     Metal(1.6, 0.92, 0.050, 14.0, 20.0, 8.0, 2.4e-3, 1650, 8.6, 0.45, 0.8, 450),
}

@dataclass(frozen=True)
class Coating:
    substrate: str
    f1: float; tau_exp: float; s: float  # threshold at 100 ns, ~ (tau/100)^tau_exp, incubation
    delta: float       # um per pulse per unit of ln(F/Fth)
    thickness: float; f_bleach: float    # um usual, dye bleaching threshold (0 = none)

COATINGS: Dict[str, Coating] = {
    "powder_coat_steel": Coating("stainless304", 0.40, 0.10, 0.94, 1.50, 80.0, 0.0),
    "paint_steel":       Coating("mild_steel", 0.30, 0.10, 0.94, 1.20, 35.0, 0.0),
    "anodised_al":       Coating("aluminium", 1.80, 0.50, 0.93, 1.50, 12.0, 0.55),
}

@dataclass(frozen=True)
class Beam:
    """Focusing optics (A.1)."""
    focal_mm: float = 160.0
    beam_mm: float = 7.0       # 1/e2 diameter at the lens
    m2: float = 1.5
    wl_um: float = 1.064

    @property
    def d0(self) -> float:     # um, 1/e2 focus diameter
        return 4.0 * self.m2 * self.wl_um * self.focal_mm / (math.pi * self.beam_mm)

    @property
    def zr(self) -> float:     # mm, Rayleigh range
        return math.pi * self.d0 ** 2 / (4.0 * self.m2 * self.wl_um) * 1e-3

    def d(self, z_mm: float) -> float:
        return self.d0 * math.sqrt(1.0 + (z_mm / self.zr) ** 2)

    def z_for(self, d_um: float) -> float:
        return self.zr * math.sqrt(max(0.0, (d_um / self.d0) ** 2 - 1.0))

@dataclass(frozen=True)
class Laser:
    power: float               # W commanded average power (rating x percentage)
    freq: float                # kHz
    tau: float                 # ns
    e_max: float = 1e9         # mJ, pulse-energy limit of the source

    @property
    def energy(self) -> float:  # mJ
        return min(self.power / self.freq, self.e_max)

    @property
    def avg(self) -> float:     # W really emitted
        return self.energy * self.freq

def need(ok: bool, msg: str) -> None:
    if not ok:
        raise ValueError(msg)

def check_laser(l: Laser) -> None:
    need(0.1 <= l.power <= 500, "power out of range 0.1..500 W")
    need(1 <= l.freq <= 4000, "frequency out of range 1..4000 kHz")
    need(4 <= l.tau <= 500, "pulse width out of range 4..500 ns")
    need(l.e_max > 0, "pulse energy limit must be positive")

def metal_of(name: str) -> Metal:
    need(name in METALS, "unknown metal " + name)
    return METALS[name]

# ---------------------------------------------------------------- A. pulse and pass
def peak_fluence(e_mj: float, d_um: float) -> float:
    return 8.0e5 * e_mj / (math.pi * d_um * d_um)

def incubated(f1: float, s: float, n: float) -> float:
    return f1 * min(max(n, 1.0), N_CAP) ** (s - 1.0)

def threshold(m: Metal, tau: float, n: float = 1.0) -> float:
    return incubated(m.f1 * math.sqrt(tau / TAU_REF), m.s, n)

@dataclass(frozen=True)
class Pulse:
    f0: float; fe: float; fth: float; ln: float; gain: float
    depth: float; dia: float; vol: float      # um, um, um3

def pulse(m: Metal, e_mj: float, d_um: float, tau: float, n: float = 1.0) -> Pulse:
    """Crater of one pulse (A.2). n = pulses the spot has seen."""
    need(e_mj > 0 and d_um > 0 and n >= 1.0, "pulse needs positive energy, spot and n>=1")
    f0 = peak_fluence(e_mj, d_um)
    x = f0 / (FS_100 * (tau / TAU_REF) ** 0.75)
    fe = f0 * math.log1p(x) / x
    f1 = m.f1 * math.sqrt(tau / TAU_REF)
    fth = incubated(f1, m.s, n)
    ln = max(0.0, math.log(fe / fth))
    q = fe / (Q_MELT * f1)
    g = 1.0 + m.gain * tau / (tau + TAU_MELT) / (1.0 + (d_um / D_MELT) ** 2) * q * q / (1.0 + q * q)
    dg = m.delta * math.sqrt(tau / TAU_REF) * g
    return Pulse(f0, fe, fth, ln, g, dg * ln, d_um * math.sqrt(ln / 2.0),
                 math.pi / 16.0 * d_um * d_um * dg * ln * ln)

@dataclass(frozen=True)
class PassResult:
    n_area: float; n_spot: float; p: Pulse      # pulses/mm2, pulses per crater, crater
    depth: float                                # um per pass on a fresh clean surface
    rate: float; rate_w: float; j_mm3: float    # mm3/min laser on, per emitted W, J/mm3 (inf = none)
    areal: float                                # J/mm2
    pulse_overlap: float; hatch_overlap: float; finish: str

def one_pass(name: str, l: Laser, b: Beam, speed: float, hatch: float,
             defocus: float = 0.0, k_cal: float = 1.0) -> PassResult:
    """Depth of one hatch pass with self-consistent incubation (A.3)."""
    m = metal_of(name)
    check_laser(l)
    need(speed > 0 and hatch > 0, "speed and hatch must be positive")
    need(0.05 <= k_cal <= 20, "k_cal out of range 0.05..20")
    d = b.d(defocus)
    n_area = l.freq * 1e3 / (speed * hatch)
    ln = 2.0
    for _ in range(12):
        n = max(1.0, n_area * 1e-6 * math.pi / 8.0 * d * d * max(ln, 0.5))
        p = pulse(m, l.energy, d, l.tau, n)
        ln = p.ln
    depth = n_area * 1e-6 * p.vol * k_cal                 # um3/um2
    rate = l.freq * 1e3 * p.vol * k_cal * 1e-9 * 60.0
    areal = l.avg / (speed * hatch)
    step = speed / l.freq                                  # um
    ref = p.dia if p.dia > 0 else d
    return PassResult(n_area, n, p, depth, rate, rate / l.avg,
                      l.avg * 60.0 / rate if rate > 0 else math.inf, areal,
                      1.0 - step / ref, 1.0 - hatch * 1e3 / ref,
                      finish(m, p, n, areal, depth, 1.0 - step / ref, l.tau))

def finish(m: Metal, p: Pulse, n: float, areal: float, depth: float, ov: float, tau: float) -> str:
    """Look of a single pass (A.5); engineering estimate."""
    if p.f0 < R_MARK * threshold(m, tau, n):
        return "none"
    if p.ln <= 0.0:
        return "tint_or_melt"
    if areal >= m.e_dark:
        return "dark"
    if p.ln < 1.5 and ov > 0.5:
        return "bright_polish"
    return "white_frosted" if p.ln >= 1.5 else "light_clean"

def best_frequency(name: str, power: float, tau: float, b: Beam, speed: float, hatch: float,
                   f_lo: float = 5.0, f_hi: float = 1000.0, e_max: float = 1e9) -> Tuple[float, float]:
    """Frequency (kHz) of highest removal at fixed average power and width; returns (f, mm3/min) (A.4)."""
    need(0 < f_lo < f_hi, "bad frequency range")
    rate = lambda u: one_pass(name, Laser(power, math.exp(u), tau, e_max), b, speed, hatch).rate
    us = [math.log(f_lo) + i * (math.log(f_hi) - math.log(f_lo)) / 120 for i in range(121)]
    r = [rate(u) for u in us]
    i = max(range(121), key=lambda j: r[j])
    lo, hi = us[max(0, i - 1)], us[min(120, i + 1)]
    for _ in range(40):                                    # ternary search
        a, c = lo + (hi - lo) / 3, hi - (hi - lo) / 3
        if rate(a) < rate(c):
            lo = a
        else:
            hi = c
    u = 0.5 * (lo + hi)
    return math.exp(u), rate(u)

# ---------------------------------------------------------------- B. patch
def hash01(a: int, b: int, c: int) -> float:
    """Deterministic uniform [0,1) from three integers (B.2), 64-bit wrap-around."""
    return float(hash01_v(a, b, np.array([c]))[0])

def hash01_v(a: int, b: int, c: np.ndarray) -> np.ndarray:
    u = np.uint64
    base = u((a * 0x9E3779B97F4A7C15 + b * 0xC2B2AE3D27D4EB4F + 1) & ((1 << 64) - 1))
    with np.errstate(over="ignore"):
        x = base + c.astype(np.uint64) * u(0x165667B19E3779F9)
        x = (x ^ (x >> u(30))) * u(0xBF58476D1CE4E5B9)
        x = (x ^ (x >> u(27))) * u(0x94D049BB133111EB)
        return ((x ^ (x >> u(31))) >> u(11)) / float(1 << 53)

@dataclass(frozen=True)
class PatchSpec:
    size_mm: float = 0.5; px_um: float = 2.0; passes: int = 20
    angle: float = 0.0; turn: float = 0.0      # degrees, degrees added per pass
    cross: bool = False        # second hatch at +90 degrees in each pass
    jitter_um: float = 1.0; noise: float = 0.10  # +- placement, +- relative depth of one pulse
    rim: float = 0.12          # share of gross volume returned as a rim
    focus_step_um: float = 0.0  # focus lowered by this after every pass
    sub: int = 4               # sub-pixel phases per axis
    pivot: Tuple[float, float] = (7.3, -4.1)  # mm, hatch origin seen from the patch centre
    shift: float = 0.0         # share of the pitch by which the line family moves per pass

@dataclass(frozen=True)
class PatchReport:
    mean: float; sa: float; sz: float; anisotropy: float; pulses: int

def footprint(p: Pulse, px: float, fx: float, fy: float, rim: float, r_px: int) -> np.ndarray:
    """Signed removal (um, + = down) on (2r+1)^2 pixels for a pulse at sub-pixel offset fx, fy.
    The sum times px^2 equals the net volume p.vol exactly (B.3)."""
    if p.vol <= 0:
        return np.zeros((2 * r_px + 1, 2 * r_px + 1))
    i, rc = np.arange(-r_px, r_px + 1), 0.5 * p.dia
    r2 = ((i[None, :] - fx) * px) ** 2 + ((i[:, None] - fy) * px) ** 2
    bowl = np.maximum(0.0, 1.0 - r2 / (rc * rc))
    bowl[r_px, r_px] += 1e-12                              # crater below one pixel: all into the centre
    bowl *= p.vol / ((1.0 - rim) * px * px * bowl.sum())
    if rim > 0:
        ring = np.exp(-((np.sqrt(r2) - 1.08 * rc) / (0.16 * rc)) ** 2)
        ring[r_px, r_px] += 1e-12
        bowl -= ring * (rim / (1.0 - rim) * p.vol / (px * px * ring.sum()))
    return bowl

def pulse_places(ps: PatchSpec, ipass: int, ihatch: int, angle: float, step_um: float,
                 hatch_um: float, reach_um: float) -> Tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Pulse centres x, y (um, origin at patch centre) and depth factors of one hatch (B.2)."""
    half = ps.size_mm * 500.0 + reach_um
    rad = half * math.sqrt(2.0)
    ca, sa = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    kk, nn = math.floor(rad / hatch_um) + 2, math.floor(rad / step_um) + 2
    v0 = 1e3 * (ps.pivot[1] * ca - ps.pivot[0] * sa) + ps.shift * ipass * hatch_um
    v0 -= math.floor(v0 / hatch_um) * hatch_um              # 0 <= v0 < pitch
    idx = np.arange(-nn, nn + 1)
    xs: List[np.ndarray] = []; ys: List[np.ndarray] = []; fs: List[np.ndarray] = []
    for k in range(-kk, kk + 1):
        line = 2 * (k + kk) + ihatch
        u = (idx + hash01(ipass, line, 0)) * step_um * (1 if (k & 1) == 0 else -1)
        c = 3 * (idx + nn) + 1
        v = v0 + k * hatch_um + ps.jitter_um * (2 * hash01_v(ipass, line, c) - 1)
        u = u + ps.jitter_um * (2 * hash01_v(ipass, line, c + 1) - 1)
        x, y = u * ca - v * sa, u * sa + v * ca
        ok = (np.abs(x) < half) & (np.abs(y) < half)
        xs.append(x[ok]); ys.append(y[ok])
        fs.append(1 + ps.noise * (2 * hash01_v(ipass, line, c + 2)[ok] - 1))
    return np.concatenate(xs), np.concatenate(ys), np.concatenate(fs)

def simulate_patch(name: str, l: Laser, b: Beam, speed: float, hatch: float, ps: PatchSpec,
                   defocus: float = 0.0) -> Tuple[np.ndarray, PatchReport]:
    """Height map (um, negative = removed) after ps.passes passes (B.4)."""
    need(0.05 <= ps.size_mm <= 5 and 0.5 <= ps.px_um <= 20, "patch size or pixel out of range")
    need(1 <= ps.passes <= 2000 and 0 <= ps.rim < 0.6, "passes or rim out of range")
    n = int(round(ps.size_mm * 1000 / ps.px_um))
    step_um, hatch_um, mult = speed / l.freq, hatch * 1e3, 2.0 if ps.cross else 1.0
    reach = 0.8 * one_pass(name, l, b, speed, hatch / mult, defocus).p.dia + 2 * ps.px_um
    r_px = int(math.ceil(reach / ps.px_um))
    pad = 2 * r_px + 1
    h = np.zeros((n + 2 * pad, n + 2 * pad))
    zbin = 0.02 * b.zr * 1e3                                # um, defocus quantum
    cache: Dict[Tuple[int, int, int], np.ndarray] = {}
    pulses: Dict[int, Pulse] = {}
    count = 0
    for ip in range(ps.passes):
        for ih in range(2 if ps.cross else 1):
            x, y, f = pulse_places(ps, ip, ih, ps.angle + ip * ps.turn + 90.0 * ih,
                                   step_um, hatch_um, reach)
            gx, gy = x / ps.px_um + n / 2 - 0.5 + pad, y / ps.px_um + n / 2 - 0.5 + pad
            ix, iy = np.rint(gx).astype(int), np.rint(gy).astype(int)
            sx = np.minimum(ps.sub - 1, ((gx - ix + 0.5) * ps.sub).astype(int))
            sy = np.minimum(ps.sub - 1, ((gy - iy + 0.5) * ps.sub).astype(int))
            # defocus from the floor as it was when this hatch began -> pulses are independent
            dz = -h[iy, ix] + defocus * 1e3 - ip * ps.focus_step_um
            zb = np.rint(dz / zbin).astype(int)
            for j in range(len(ix)):
                key = (int(zb[j]), int(sx[j]), int(sy[j]))
                fp = cache.get(key)
                if fp is None:
                    if key[0] not in pulses:
                        z = key[0] * zbin * 1e-3
                        pulses[key[0]] = one_pass(name, l, b, speed, hatch / mult, z).p
                    fp = cache[key] = footprint(pulses[key[0]], ps.px_um, (key[1] + 0.5) / ps.sub - 0.5,
                                                (key[2] + 0.5) / ps.sub - 0.5, ps.rim, r_px)
                h[iy[j] - r_px:iy[j] + r_px + 1, ix[j] - r_px:ix[j] + r_px + 1] -= f[j] * fp
            count += len(ix)
    core = h[pad:pad + n, pad:pad + n]
    return core, measure(core, ps.px_um, count)

def groove_patch(name: str, l: Laser, b: Beam, speed: float, hatch: float, ps: PatchSpec,
                 defocus: float = 0.0) -> Tuple[np.ndarray, PatchReport]:
    """Fast preview: each pass is a periodic set of continuous grooves, one table look-up per pixel (B.6).
    No pulse noise, no jitter, no rim; valid for pulse step <= half a crater radius."""
    n, mult, hum = int(round(ps.size_mm * 1000 / ps.px_um)), 2.0 if ps.cross else 1.0, hatch * 1e3
    c, h = (np.arange(n) + 0.5 - n / 2) * ps.px_um, np.zeros((n, n))
    x, y = c[None, :], c[:, None]
    for ip in range(ps.passes):
        for ih in range(2 if ps.cross else 1):
            z = defocus - float(h.mean()) * 1e-3 - ip * ps.focus_step_um * 1e-3
            p = one_pass(name, l, b, speed, hatch / mult, z).p
            if p.vol <= 0:
                continue
            rc, k = 0.5 * p.dia, math.ceil(0.5 * p.dia / hum) + 1
            v = np.arange(512) / 512.0 * hum
            tab = sum(np.maximum(0.0, rc * rc - (v - j * hum) ** 2) ** 1.5 for j in range(-k, k + 2))
            tab *= p.vol * 8.0 / (3.0 * math.pi * rc ** 4) / (speed / l.freq)
            a = math.radians(ps.angle + ip * ps.turn + 90.0 * ih)
            ca, sa = math.cos(a), math.sin(a)
            v0 = 1e3 * (ps.pivot[1] * ca - ps.pivot[0] * sa) + ps.shift * ip * hum
            w = (y * ca - x * sa - v0) / hum
            h -= tab[np.minimum(511, ((w - np.floor(w)) * 512).astype(int))]
    return h, measure(h, ps.px_um)

def measure(h: np.ndarray, px: float, pulses: int = 0) -> PatchReport:
    """Sa, Sz as in ISO 25178-2 without form removal; anisotropy from the structure tensor (B.5)."""
    mean, (gy, gx) = float(h.mean()), np.gradient(h, px)
    a, c, bb = float((gx * gx).mean()), float((gy * gy).mean()), float((gx * gy).mean())
    t = a + c
    an = math.sqrt((a - c) ** 2 + 4 * bb * bb) / t if t > 0 else 0.0
    return PatchReport(-mean, float(np.abs(h - mean).mean()), float(h.max() - h.min()), an, pulses)

# ---------------------------------------------------------------- C. deep engraving
@dataclass(frozen=True)
class DeepSpec:
    passes: int = 100
    focus_step: float = 0.0; focus_every: int = 0  # mm lowered after every n passes (0 = never)
    clean_every: int = 0       # cleaning pass after every this many passes (0 = never)
    width: float = 10.0        # mm, narrowest width of the cut area
    defocus: float = 0.0; k_cal: float = 1.0   # mm focus above (+) the surface at the start, factor

def deep(name: str, l: Laser, b: Beam, speed: float, hatch: float, ds: DeepSpec,
         target: float = math.inf) -> List[float]:
    """Cumulative depth (um) after 0,1,2..passes (C.1). Stops early at target or when stalled."""
    need(ds.passes >= 1 and ds.width > 0 and ds.focus_step >= 0, "bad deep-engraving settings")
    z, since, foc = 0.0, 0.0, 0.0
    out = [0.0]
    for i in range(1, ds.passes + 1):
        fresh = one_pass(name, l, b, speed, hatch, ds.defocus + z * 1e-3 - foc, ds.k_cal).depth
        eff = ETA_DEBRIS + (1 - ETA_DEBRIS) * math.exp(-since / Z_DEBRIS)
        dz = fresh * eff / (1.0 + K_ASPECT * z * 1e-3 / ds.width)
        z += dz
        since += dz
        out.append(z)
        if z >= target or dz < 1e-4:
            break
        if ds.clean_every and i % ds.clean_every == 0:
            since *= CLEAN_RESIDUE
        if ds.focus_every and i % ds.focus_every == 0:
            foc += ds.focus_step
    return out

def focus_rule(b: Beam, depth_per_pass_um: float, frac: float = 0.25) -> Tuple[float, int]:
    """(step mm, every n passes): floor never more than frac*zR from focus (C.2)."""
    need(depth_per_pass_um > 0, "no removal, no focus schedule")
    every = max(1, int(math.floor(frac * b.zr * 1e3 / depth_per_pass_um)))
    return every * depth_per_pass_um * 1e-3, every

def passes_to_depth(name: str, l: Laser, b: Beam, speed: float, hatch: float, ds: DeepSpec,
                    target_um: float, band: float = BAND) -> Tuple[int, int, int]:
    """(likely, fewest, most) passes; -1 = not reached within ds.passes (C.3)."""
    res = []
    for f in (1.0, band, 1.0 / band):
        z = deep(name, l, b, speed, hatch, replace(ds, k_cal=ds.k_cal * f), target_um)
        res.append(len(z) - 1 if z[-1] >= target_um else -1)
    return res[0], res[1], res[2]

def taper_deg(p: Pulse) -> float:
    """Wall angle from the vertical (C.4)."""
    return 90.0 if p.ln <= 0 else TAPER_MIN + math.degrees(math.asin(p.fth / p.fe))

def floor_width(width_mm: float, depth_um: float, p: Pulse) -> float:
    return max(0.0, width_mm - 2e-3 * depth_um * math.tan(math.radians(taper_deg(p))))

def stage(name: str, depth_range_um: float, areal_sum: float) -> str:
    """Visual stage of a many-pass job (C.5)."""
    m = metal_of(name)
    if depth_range_um >= Z_EMERGE:
        return "shape_emerges" if depth_range_um < 2.5 * Z_EMERGE else "relief_clear"
    return "dark_powder" if areal_sum >= m.e_dark else "first_marks"

def thin_plate(name: str, power: float, thickness: float, side: float, area_rate: float,
               depth_um: float, h_loss: float = 60.0) -> Dict[str, float]:
    """Heating, buckling and burn-through of a thin plate (C.6). mm, mm2/s, W/(m2 K)."""
    m = metal_of(name)
    need(thickness > 0 and side > 0 and area_rate > 0 and h_loss > 0, "bad plate settings")
    q = m.a_heat * power
    ad = q / (area_rate * m.rho_c * thickness)
    fin = q / (2.0 * side * 1e-3 * math.sqrt(m.k * thickness * 1e-3 * h_loss))
    dt = ad * fin / (ad + fin)
    crit = 1.265 * (thickness / side) ** 2 / (m.alpha * 1e-6)
    left = max(0.0, 1.0 - depth_um * 1e-3 / thickness)
    burn = (depth_um * 1e-3 / thickness) / 0.5 + dt / m.t_melt
    return {"dt": dt, "dt_buckle": crit, "warps": float(dt > crit), "left": left,
            "burn_index": burn, "burns": float(burn >= 1.0)}

# ---------------------------------------------------------------- E. time
@dataclass(frozen=True)
class Galvo:
    v_jump: float = 4000.0; accel: float = 6.0e6     # mm/s, mm/s2 at the work plane
    settle_us: float = 180.0; settle_us_mm: float = 4.0; settle_cap_us: float = 500.0  # after a jump
    on_us: float = 60.0; off_us: float = 90.0        # laser delays
    pass_s: float = 0.15                             # overhead of one pass
    z_speed: float = 2.0; z_settle_s: float = 0.25   # focus axis mm/s, s

def t_jump(g: Galvo, dist: float) -> float:
    s = min(g.settle_us + g.settle_us_mm * dist, g.settle_cap_us) * 1e-6
    ramp = g.v_jump / g.accel                               # triangular profile for short jumps
    move = dist / g.v_jump + ramp if dist > g.v_jump * ramp else 2.0 * math.sqrt(dist / g.accel)
    return move + s

def t_run(g: Galvo, length: float, speed: float) -> float:
    return length / speed + speed / g.accel + (g.on_us + g.off_us) * 1e-6

def t_focus(g: Galvo, dz: float) -> float:
    return abs(dz) / g.z_speed + g.z_settle_s if dz != 0 else 0.0

def time_fast(g: Galvo, area: float, hull: float, runs: float, speed: float, hatch: float) -> float:
    """Seconds of one pass from mask area, area of the scanned hull (mm2) and number of runs (E.2)."""
    need(speed > 0 and hatch > 0 and area >= 0, "bad time settings")
    if area == 0 or runs <= 0:
        return g.pass_s
    lines = min(runs, math.sqrt(max(hull, area)) / hatch)
    gaps = runs - lines
    t = g.pass_s + area / hatch / speed + runs * t_run(g, 0.0, speed) + lines * t_jump(g, hatch)
    if gaps > 0:
        t += gaps * t_jump(g, min(max(0.0, hull - area) / hatch / gaps, 0.6 * math.sqrt(hull)))
    return t

def hatch_runs(mask: np.ndarray, px: float, hatch: float, angle: float) -> List[List[Tuple[float, float]]]:
    """Exact runs (mm along the line) of every hatch line through a binary mask (E.3)."""
    ny, nx = mask.shape
    ca, sa = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    half = 0.5 * px * math.hypot(nx, ny)
    st = 0.5 * px
    kk = math.floor(half / hatch)
    ks = np.arange(-kk, kk + 1)
    u = (np.arange(int(2 * half / st) + 1) + 0.5) * st - half
    v = ks[:, None] * hatch
    ix = np.floor((u * ca - v * sa) / px + nx / 2).astype(int)
    iy = np.floor((u * sa + v * ca) / px + ny / 2).astype(int)
    ok = (ix >= 0) & (ix < nx) & (iy >= 0) & (iy < ny)
    s = np.where(ok, mask[np.clip(iy, 0, ny - 1), np.clip(ix, 0, nx - 1)], 0).astype(np.int8)
    d = np.diff(np.pad(s, ((0, 0), (1, 1))), axis=1)
    out = []
    for row in d:
        a, e = np.flatnonzero(row == 1), np.flatnonzero(row == -1)
        out.append([(i * st - half, j * st - half) for i, j in zip(a.tolist(), e.tolist())])
    return out

def time_exact(g: Galvo, lines: Sequence[Sequence[Tuple[float, float]]], speed: float, hatch: float) -> float:
    """Seconds of one serpentine pass over the runs of hatch_runs (E.3)."""
    t, last, fwd = g.pass_s, None, True
    for k, runs in enumerate(lines):
        if not runs:
            continue
        for a, e in (runs if fwd else [(y, x) for x, y in reversed(runs)]):
            if last is not None:
                t += t_jump(g, math.hypot(a - last[0], (k - last[1]) * hatch))
            t += t_run(g, abs(e - a), speed)
            last = (e, k)
        fwd = not fwd
    return t

def mask_stats(mask: np.ndarray, px: float, hatch: float) -> Tuple[float, float]:
    """(area mm2, expected number of runs averaged over the angle, Cauchy-Crofton) (E.2)."""
    m = np.pad(mask.astype(np.int8), 1)
    edges = int(np.abs(np.diff(m, axis=0)).sum() + np.abs(np.diff(m, axis=1)).sum())
    return float(mask.sum()) * px * px, math.pi / 4 * edges * px / (math.pi * hatch)

# ---------------------------------------------------------------- D. relief
def unsharp(v: np.ndarray, amount: float, sigma: float) -> np.ndarray:
    if amount == 0 or sigma <= 0:
        return v
    r = int(math.ceil(3 * sigma))
    k = np.exp(-0.5 * (np.arange(-r, r + 1) / sigma) ** 2)
    k /= k.sum()
    p = np.pad(v, r, mode="edge")
    p = sum(k[i] * p[:, i:i + v.shape[1]] for i in range(2 * r + 1))
    p = sum(k[i] * p[i:i + v.shape[0], :] for i in range(2 * r + 1))
    return v + amount * (v - p)

def levels(img: np.ndarray, bits: int, layers: int, black: float = 0.0, white: float = 1.0,
           gamma: float = 1.0, invert: bool = False, amount: float = 0.0, sigma: float = 1.5) -> np.ndarray:
    """Grey map (white = high, uncut) -> number of layers cut per pixel, 0..layers (D.1)."""
    need(bits in (8, 16) and 1 <= layers <= 4096, "bits must be 8 or 16, layers 1..4096")
    need(black < white and gamma > 0, "black point must lie below white point, gamma positive")
    v = unsharp(img.astype(float) / (2 ** bits - 1), amount, sigma)
    v = np.clip((v - black) / (white - black), 0.0, 1.0) ** gamma
    q = v if invert else 1.0 - v
    return np.floor(q * layers + 0.5).astype(int)

@dataclass(frozen=True)
class ReliefPlan:
    total_s: float; layer_s: List[float]; cum_um: List[float]
    terrace_um: float; min_feature_um: float; taper: float; emerge_s: float; coverage: float

def relief(name: str, l: Laser, b: Beam, speed: float, hatch: float, counts: np.ndarray, px: float,
           layers: int, g: Galvo, ds: DeepSpec, hull: float, turn: float = 0.0,
           exact_every: int = 0) -> ReliefPlan:
    """Plan of a layered relief (D.2). Layer k (0-based) cuts the pixels with counts > k.
    exact_every = n: exact time for each n-th layer and the same ratio for those between."""
    need(int(counts.max(initial=0)) <= layers, "counts exceed the number of layers")
    cum = deep(name, l, b, speed, hatch, replace(ds, passes=layers))
    cum += [cum[-1]] * (layers + 1 - len(cum))
    ts, ratio, emerge, areal, t = [], 1.0, math.inf, 0.0, 0.0
    e_a = l.avg / (speed * hatch)
    for k in range(layers):
        mask = counts > k
        area, runs = mask_stats(mask, px, hatch)
        fast = time_fast(g, area, hull, runs, speed, hatch)
        if exact_every and k % exact_every == 0 and area > 0:
            ratio = time_exact(g, hatch_runs(mask, px, hatch, k * turn), speed, hatch) / fast
        s = fast * ratio
        if ds.focus_every and (k + 1) % ds.focus_every == 0 and k + 1 < layers:
            s += t_focus(g, ds.focus_step)
        ts.append(s)
        t += s
        areal += e_a
        if emerge == math.inf and cum[k + 1] >= Z_EMERGE:
            emerge = t
    p = one_pass(name, l, b, speed, hatch, ds.defocus).p
    cov = float(counts.mean()) * counts.size * px * px / (layers * hull)
    return ReliefPlan(t, ts, cum, cum[layers] / layers, p.dia, taper_deg(p), emerge, cov)

# ---------------------------------------------------------------- F. coatings
@dataclass(frozen=True)
class CoatResult:
    f0: float; n: float; f_coat: float; f_mark: float   # J/cm2, pulses per spot
    margin_coat: float; margin_metal: float    # f0/f_coat (want >= 1.3), f_mark/f0 (want >= 1.2)
    depth: float; passes: int  # um per pass; passes for the thickness (-1 = never)
    tint: float; verdict: str  # average heat rise / tint rise (want < 1)

def coating_pass(cname: str, l: Laser, b: Beam, speed: float, hatch: float, defocus: float,
                 thickness: Optional[float] = None) -> CoatResult:
    """What one pass does to a coating and to the metal beneath (F.1)."""
    need(cname in COATINGS, "unknown coating " + cname)
    check_laser(l)
    need(speed > 0 and hatch > 0, "speed and hatch must be positive")
    c = COATINGS[cname]
    m = METALS[c.substrate]
    th = c.thickness if thickness is None else thickness
    need(th > 0, "thickness must be positive")
    d = b.d(defocus)
    n_area = l.freq * 1e3 / (speed * hatch)
    n = max(1.0, n_area * 1e-6 * math.pi / 4 * d * d)
    f0 = peak_fluence(l.energy, d)
    fc = incubated(c.f1 * (l.tau / TAU_REF) ** c.tau_exp, c.s, n)
    fm = R_MARK * threshold(m, l.tau, n)
    ln = max(0.0, math.log(f0 / fc))
    depth = n_area * 1e-6 * math.pi / 16 * d * d * c.delta * ln * ln
    a = d * 1e-6 / (2 * math.sqrt(2.0))                     # m, 1/e radius
    dt0 = m.a_heat * l.avg / (2 * math.sqrt(math.pi) * m.k * a)
    dt = dt0 / math.sqrt(1.0 + 0.533 * speed * 1e-3 * a / (m.kappa * 1e-6))
    passes = max(1, math.ceil(th / depth)) if depth > 0.01 else -1
    tint = dt / m.dt_tint
    fb = incubated(c.f_bleach * math.sqrt(l.tau / TAU_REF), c.s, n) if c.f_bleach > 0 else 0.0
    if f0 < fc:
        v = "bleached_film_kept" if 0 < fb <= f0 else "nothing"
    elif f0 >= fm or tint >= 1.0:
        v = "removed_metal_marked" if passes > 0 else "metal_marked"
    else:
        v = "removed_clean" if passes == 1 else "partly_removed_clean"
    return CoatResult(f0, n, fc, fm, f0 / fc, fm / f0, depth, passes, tint, v)

def coating_window(cname: str, l: Laser, b: Beam, speed: float, hatch: float,
                   lo: float = 1.3, hi: float = 1.2) -> Optional[Tuple[float, float, float]]:
    """(nearest, best, farthest) defocus mm with both margins and no tint, or None (F.2)."""
    z_max = 12.0 * b.zr
    good = [z for z in (i * z_max / 600 for i in range(601))
            if (r := coating_pass(cname, l, b, speed, hatch, z)).margin_coat >= lo
            and r.margin_metal >= hi and r.tint < 1.0]
    if not good:
        return None
    best = max(good, key=lambda z: min((r := coating_pass(cname, l, b, speed, hatch, z)).margin_coat / lo,
                                       r.margin_metal / hi, 1.0 / r.tint if r.tint > 0 else 1e9))
    return good[0], best, good[-1]
