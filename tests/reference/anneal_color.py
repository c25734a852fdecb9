# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""Reference model: what a nanosecond 1064 nm fibre laser does to a metal surface
when annealing (dark oxide, no removal) or colour marking (interference oxide).

Pure functions, deterministic, numpy only, nothing happens on import.
Formulas: docs/physics.md; the tags [S..] are theirs.
All internal quantities are SI (m, s, W, J, K); the public inputs use shop-floor units.

    r = predict(Source(...), Optics(...), Settings(...), Work(...))
    s = sensitivity(Source(...), Optics(...), Settings(...), Work(...))
"""
from __future__ import annotations

import math
from dataclasses import dataclass, fields, replace
from typing import Dict, List, Optional, Tuple

import numpy as np

R_GAS = 8.314462618          # J/(mol K)

# --------------------------------------------------------------------------------------
# Inputs
# --------------------------------------------------------------------------------------


class InputError(ValueError):
    """Raised for inputs outside the valid range; `.code` is one of the codes."""

    def __init__(self, code: str, text: str):
        super().__init__(f"{code}: {text}")
        self.code = code


@dataclass(frozen=True)
class Source:
    kind: str                          # 'fixed' (Q-switched) or 'variable' (MOPA)
    p_nom_w: float                     # nominal average power
    e_cap_mj: float                    # largest pulse energy the source delivers at any width
    f_max_khz: float = 1000.0
    tau_fixed_ns: float = 120.0        # only for kind='fixed'
    p_peak_max_kw: float = 12.0        # only for kind='variable': e_max(tau) = min(e_cap, p_peak_max*tau)
    e_table: Optional[Tuple[Tuple[float, float], ...]] = None   # optional ((tau_ns, e_max_mJ), ...) data sheet


@dataclass(frozen=True)
class Optics:
    f_lens_mm: float
    beam_d_mm: float = 6.0             # 1/e2 diameter at the lens
    m2: float = 1.4
    wavelength_nm: float = 1064.0


@dataclass(frozen=True)
class Settings:
    power_pct: float
    freq_khz: float
    pulse_ns: float                    # ignored for kind='fixed'
    speed_mm_s: float
    hatch_mm: float
    passes: int = 1
    hatch_angle_deg: float = 0.0
    focus_mm: float = 0.0              # distance from the focal plane, either sign


@dataclass(frozen=True)
class Work:
    material: str = "ss304"
    finish: str = "standard"           # 'mirror', 'standard', 'brushed'
    thickness_mm: float = 2.0
    line_length_mm: float = 10.0       # fill rectangle, side along hatch angle 0
    area_mm2: float = 100.0
    t_start_c: float = 20.0
    coating: str = "none"              # 'none', 'nickel', 'clear'
    k_gain: float = 1.0                # local calibration factor on the oxide growth constant


@dataclass(frozen=True)
class Material:
    name: str
    a0: float            # process-averaged absorptance at 1064 nm, standard finish
    k_hot: float         # W/(m K)    effective, 300 K .. melting
    rc_hot: float        # J/(m3 K)   effective volumetric heat capacity, same range
    k_bulk: float        # W/(m K)    300 .. 600 K
    rc_bulk: float       # J/(m3 K)
    t_melt: float        # K
    lc: float            # K          latent heat of fusion / specific heat
    t_vap: float         # K
    rlv: float           # J/m3       density * latent heat of vaporisation
    cte: float           # 1/K
    eps_y: float         # -          yield strain
    metal_nk: str        # key of METAL_NK
    oxide: Optional[str]  # key of OXIDE_NK, None: no interference oxide modelled
    ea: float = 0.0      # J/mol
    k0: float = 0.0      # m2/s       parabolic prefactor, x^2 = k t
    k_sat: float = 1.0   # m2/s       supply-limited ceiling
    x_col: float = 0.0   # m          tint -> interference colour
    x_dark: float = 0.0  # m          interference colour -> dark anneal


@dataclass(frozen=True)
class Model:
    """Tunable constants; 'E' engineering estimate, 'C' calibrated on practitioner facts."""
    eps_res: float = 0.75       # E  share of the super-threshold absorbed energy that stays as heat
    eta_rem: float = 0.08       # E  net share of the super-threshold energy that removes material
    zp_crit: float = 1.5e-6     # E  evaporated depth per pulse (axis, unshielded) that means engraving
    z_crit: float = 3.0e-6      # E  net removed depth that means engraving
    x_native: float = 3.0e-9    # E  native oxide
    x_tint: float = 8.0e-9      # E  smallest visible oxide
    x_max: float = 3.0e-6       # E  scale thickness where spallation makes the number meaningless
    x_cov: float = 12.0e-9      # E  thickness scale on which the oxide becomes continuous
    b_max: float = 0.9          # E  extra reflections by light trapping in thick rough oxide
    x_b: float = 460.0e-9       # E  thickness scale of the light trapping
    n_haze: float = 1600.0      # E  pulses per spot area that roughen a surface
    haze_max: float = 0.85      # E
    z_haze: float = 2.0e-6      # E  removed depth that roughens the surface
    env0: float = 0.05          # E  ambient light seen by the mirror part of a tilted sample
    env_deg: float = 25.0       # E  half width of the lamp in the appearance model
    h_loss: float = 15.0        # E  W/(m2 K) per face, natural convection + radiation
    t_turn: float = 0.5e-3      # E  s, scanner turn-round per line
    f_clean: float = 0.3e4      # E  J/m2, peak fluence above which films and grease come off


MODEL = Model()

_SS = dict(rc_hot=7900 * 650.0, rc_bulk=7900 * 500.0, t_melt=1700.0, lc=400.0, t_vap=3100.0, rlv=4.9e10,
           metal_nk="stainless", oxide="cr_fe_spinel", k_sat=3.5e-9, x_col=20e-9, x_dark=180e-9)
MATERIALS: Dict[str, Material] = {
    "ss304": Material("stainless 304", a0=0.36, k_hot=25.0, k_bulk=16.0, cte=17e-6, eps_y=1.1e-3, ea=230e3, k0=8.5e-3, **_SS),
    "ss316": Material("stainless 316", a0=0.36, k_hot=24.5, k_bulk=15.5, cte=16e-6, eps_y=1.1e-3, ea=230e3, k0=8.0e-3, **_SS),
    "ss430": Material("stainless 430", a0=0.37, k_hot=26.5, k_bulk=25.0, cte=10.5e-6, eps_y=1.5e-3, ea=230e3, k0=8.0e-3, **_SS),
    "mild": Material("mild steel", a0=0.38, k_hot=32.0, rc_hot=7850 * 700.0, k_bulk=50.0, rc_bulk=7850 * 490.0,
                     t_melt=1790.0, lc=390.0, t_vap=3130.0, rlv=4.9e10, cte=12e-6, eps_y=1.2e-3,
                     metal_nk="iron", oxide="magnetite", ea=170e3, k0=2.5e-4, k_sat=3.5e-9, x_col=20e-9, x_dark=170e-9),
    "tool": Material("tool steel", a0=0.37, k_hot=28.0, rc_hot=7800 * 680.0, k_bulk=28.0, rc_bulk=7800 * 470.0,
                     t_melt=1700.0, lc=390.0, t_vap=3130.0, rlv=4.9e10, cte=11.5e-6, eps_y=2.5e-3,
                     metal_nk="iron", oxide="magnetite", ea=170e3, k0=2.2e-4, k_sat=3.0e-9, x_col=20e-9, x_dark=170e-9),
    "ti2": Material("titanium grade 2", a0=0.45, k_hot=21.0, rc_hot=4500 * 690.0, k_bulk=18.0, rc_bulk=4500 * 540.0,
                    t_melt=1941.0, lc=420.0, t_vap=3560.0, rlv=4.0e10, cte=8.6e-6, eps_y=2.6e-3,
                    metal_nk="titanium", oxide="tio2", ea=200e3, k0=1.50e-3, k_sat=3.5e-9, x_col=16e-9, x_dark=400e-9),
    "al": Material("aluminium", a0=0.18, k_hot=210.0, rc_hot=2700 * 1080.0, k_bulk=220.0, rc_bulk=2700 * 920.0,
                   t_melt=930.0, lc=365.0, t_vap=2740.0, rlv=2.9e10, cte=23e-6, eps_y=1.0e-3, metal_nk="aluminium", oxide=None),
    "brass": Material("brass", a0=0.22, k_hot=125.0, rc_hot=8500 * 410.0, k_bulk=120.0, rc_bulk=8500 * 385.0,
                      t_melt=1190.0, lc=410.0, t_vap=1700.0, rlv=3.1e10, cte=19e-6, eps_y=1.5e-3, metal_nk="brass", oxide=None),
    "cu": Material("copper", a0=0.10, k_hot=365.0, rc_hot=8960 * 430.0, k_bulk=390.0, rc_bulk=8960 * 390.0,
                   t_melt=1358.0, lc=475.0, t_vap=2835.0, rlv=4.3e10, cte=17e-6, eps_y=0.6e-3, metal_nk="copper", oxide=None),
}
FINISH = {  # factor on absorptance, haze of the untouched surface
    "mirror": (0.78, 0.03), "standard": (1.0, 0.35), "brushed": (1.08, 0.45)}
COATING = {  # factor on the growth constant
    "none": 1.0, "nickel": 0.01, "clear": 0.0005}

# --------------------------------------------------------------------------------------
# Optical tables (380..780 nm, 20 nm steps; linear interpolation to the 10 nm grid)
# --------------------------------------------------------------------------------------

LAMBDA20 = np.arange(380.0, 781.0, 20.0)
LAMBDA = np.arange(380.0, 781.0, 10.0)
METAL_NK: Dict[str, Tuple[List[float], List[float]]] = {
    "stainless": ([1.55, 1.62, 1.70, 1.78, 1.86, 1.95, 2.04, 2.13, 2.22, 2.31, 2.40, 2.49, 2.57, 2.65, 2.72, 2.78, 2.84, 2.89, 2.94, 2.98, 3.02],
                  [2.55, 2.66, 2.77, 2.88, 2.99, 3.09, 3.18, 3.27, 3.36, 3.44, 3.52, 3.60, 3.68, 3.76, 3.83, 3.90, 3.97, 4.04, 4.11, 4.18, 4.25]),
    "iron": ([1.95, 2.09, 2.23, 2.36, 2.47, 2.57, 2.66, 2.73, 2.79, 2.83, 2.86, 2.88, 2.89, 2.89, 2.90, 2.90, 2.91, 2.91, 2.92, 2.93, 2.94],
             [2.55, 2.62, 2.69, 2.75, 2.80, 2.84, 2.87, 2.90, 2.93, 2.95, 2.98, 3.01, 3.05, 3.09, 3.13, 3.18, 3.23, 3.28, 3.33, 3.38, 3.43]),
    "titanium": ([1.39, 1.46, 1.53, 1.59, 1.65, 1.71, 1.77, 1.83, 1.89, 1.95, 2.01, 2.07, 2.13, 2.20, 2.27, 2.34, 2.41, 2.48, 2.54, 2.60, 2.66],
                 [1.97, 2.08, 2.18, 2.27, 2.36, 2.44, 2.52, 2.59, 2.66, 2.73, 2.79, 2.85, 2.91, 2.96, 3.01, 3.06, 3.10, 3.14, 3.18, 3.22, 3.26]),
    "aluminium": ([0.44, 0.49, 0.54, 0.59, 0.65, 0.71, 0.77, 0.84, 0.92, 1.01, 1.10, 1.20, 1.31, 1.43, 1.55, 1.69, 1.83, 2.02, 2.24, 2.46, 2.64],
                  [4.61, 4.86, 5.11, 5.35, 5.59, 5.83, 6.08, 6.32, 6.57, 6.80, 7.03, 7.26, 7.49, 7.71, 7.92, 8.12, 8.31, 8.46, 8.58, 8.62, 8.60]),
    "brass": ([1.50, 1.49, 1.48, 1.46, 1.40, 1.22, 0.95, 0.72, 0.57, 0.50, 0.47, 0.45, 0.44, 0.44, 0.44, 0.44, 0.45, 0.46, 0.47, 0.48, 0.50],
              [1.78, 1.80, 1.82, 1.84, 1.85, 1.88, 1.99, 2.20, 2.45, 2.70, 2.94, 3.17, 3.39, 3.60, 3.81, 4.01, 4.21, 4.41, 4.60, 4.79, 4.97]),
    "copper": ([1.33, 1.31, 1.27, 1.25, 1.24, 1.25, 1.22, 1.18, 1.08, 0.90, 0.70, 0.44, 0.29, 0.24, 0.22, 0.21, 0.21, 0.22, 0.23, 0.24, 0.25],
               [2.04, 2.13, 2.24, 2.34, 2.44, 2.53, 2.57, 2.61, 2.58, 2.62, 2.70, 2.96, 3.22, 3.46, 3.66, 3.90, 4.16, 4.37, 4.58, 4.76, 4.94]),
}
# oxide: n = n0 + b/lam_um^2 ; k = k1 + k2*exp(-(lam_nm-400)/lk) ; relative thickness spread s0 + s1*(1-exp(-x/300 nm))
OXIDE_NK: Dict[str, Tuple[float, float, float, float, float, float, float]] = {
    "cr_fe_spinel": (2.25, 0.040, 0.20, 0.22, 120.0, 0.07, 0.12),
    "magnetite": (2.30, 0.035, 0.35, 0.20, 150.0, 0.08, 0.14),
    "tio2": (2.22, 0.045, 0.025, 0.060, 60.0, 0.06, 0.06),
}
# CIE D65 relative spectral power, 380..780 nm in 10 nm steps
D65 = np.array([
    49.9755, 54.6482, 82.7549, 91.4860, 93.4318, 86.6823, 104.865, 117.008, 117.812, 114.861, 115.923, 108.811, 109.354, 107.802,
    104.790, 107.689, 104.405, 104.046, 100.000, 96.3342, 95.7880, 88.6856, 90.0062, 89.5991, 87.6987, 83.2886, 83.6992, 80.0268,
    80.2146, 82.2778, 78.2842, 69.7213, 71.6091, 74.3490, 61.6040, 69.8856, 75.0870, 63.5927, 46.4182, 66.8054, 63.3828])
_XYZ2RGB = np.array([[3.2404542, -1.5371385, -0.4985314], [-0.9692660, 1.8760108, 0.0415560], [0.0556434, -0.2040259, 1.0572252]])
_D65_WHITE = np.array([0.95047, 1.0, 1.08883])


def _lobe(lam, mu, s1, s2):
    return np.exp(-0.5 * ((lam - mu) / np.where(lam < mu, s1, s2)) ** 2)


def cie_xyz_bar(lam):
    """CIE 1931 2 deg observer, multi-lobe fit of Wyman, Sloan & Shirley (2013). [S8.3]"""
    lam = np.asarray(lam, float)
    x = 1.056 * _lobe(lam, 599.8, 37.9, 31.0) + 0.362 * _lobe(lam, 442.0, 16.0, 26.7) - 0.065 * _lobe(lam, 501.1, 20.4, 26.2)
    y = 0.821 * _lobe(lam, 568.8, 46.9, 40.5) + 0.286 * _lobe(lam, 530.9, 16.3, 31.1)
    z = 1.217 * _lobe(lam, 437.0, 11.8, 36.0) + 0.681 * _lobe(lam, 459.0, 26.0, 13.8)
    return np.array([x, y, z])


_W = cie_xyz_bar(LAMBDA) * D65
_W = _W / _W[1].sum()
WHITE = _W.sum(axis=1)                 # (Xn, Yn=1, Zn) of the perfect reflector on this grid


def spectrum_to_xyz(refl) -> np.ndarray:
    return _W @ np.asarray(refl, float)


def xyz_to_lab(xyz) -> Tuple[float, float, float]:
    def f(t):
        return t ** (1 / 3) if t > 216 / 24389 else (24389 / 27 * t + 16) / 116
    fx, fy, fz = (f(max(0.0, float(v))) for v in np.asarray(xyz) / WHITE)
    return 116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)


def xyz_to_srgb(xyz) -> Tuple[int, int, int]:
    c = np.clip(_XYZ2RGB @ (np.asarray(xyz) / WHITE * _D65_WHITE), 0.0, 1.0)
    c = np.where(c <= 0.0031308, 12.92 * c, 1.055 * np.power(c, 1 / 2.4) - 0.055)
    return tuple(int(math.floor(255 * v + 0.5)) for v in c)


def delta_e(a, b) -> float:
    return math.sqrt(sum((p - q) ** 2 for p, q in zip(a, b)))


def chroma(lab) -> float:
    return math.hypot(lab[1], lab[2])


def hue(lab) -> float:
    return math.degrees(math.atan2(lab[2], lab[1])) % 360.0


def colour_name(lab) -> str:
    """Plain-language name, for tests and for telling users what to expect. [S8.6]"""
    L, C, h = lab[0], chroma(lab), hue(lab)
    if C < 7.0 or (L < 34 and C < 9.0):
        return "silver" if L > 68 else "grey" if L > 42 else "dark grey" if L > 31 else "black"
    if h < 20 or h >= 335:
        return "rose" if L > 45 else "purple"
    if h < 60:
        return "orange" if L > 45 else "brown"
    if h < 105:
        return "straw" if C < 24 or L > 72 else "yellow" if L > 58 else "gold"
    if h < 180:
        return "green"
    if h < 300:
        return "light blue" if L > 57 else "blue"
    return "purple"


# --------------------------------------------------------------------------------------
# Numerical helpers
# --------------------------------------------------------------------------------------

_GL = {n: np.polynomial.legendre.leggauss(n) for n in (3, 12, 24, 32, 40, 48)}


def _gl(n: int, a: float, b: float):
    x, w = _GL[n]
    return 0.5 * (b - a) * x + 0.5 * (a + b), 0.5 * (b - a) * w


def i0e(x: float) -> float:
    """exp(-x) I0(x), x >= 0; Abramowitz & Stegun 9.8.1 / 9.8.2 (error < 2e-7)."""
    if x < 3.75:
        t = (x / 3.75) ** 2
        return math.exp(-x) * (1 + t * (3.5156229 + t * (3.0899424 + t * (1.2067492 + t * (0.2659732 + t * (0.0360768 + t * 0.0045813))))))
    t = 3.75 / x
    return (0.39894228 + t * (0.01328592 + t * (0.00225319 + t * (-0.00157565 + t * (0.00916281 + t * (
        -0.02057706 + t * (0.02635537 + t * (-0.01647633 + t * 0.00392377)))))))) / math.sqrt(x)


def plate_factor(fo):
    """Surface heating of a plate with insulated back relative to the half space, Fo = alpha t / h^2. [S5.3]"""
    fo = np.asarray(fo, float)
    m = np.arange(1.0, 5.0).reshape((4,) + (1,) * fo.ndim)
    small = 1 + 2 * np.exp(-m ** 2 / np.maximum(fo, 1e-9)).sum(0)
    big = np.sqrt(np.pi * fo) * (1 + 2 * np.exp(-(m * np.pi) ** 2 * fo).sum(0))
    return np.where(fo < 0.6, small, big)


def _series(g, n: int) -> float:
    """sum_{j=1..n} g(j): 16 exact terms, the rest by the midpoint rule in ln j with 32 Gauss nodes. [S5.4]"""
    m = 16
    s = float(np.sum(g(np.arange(1.0, min(n, m) + 1))))
    if n > m:
        y, w = _gl(32, math.log(m + 0.5), math.log(n + 0.5))
        j = np.exp(y)
        s += float(np.sum(w * j * g(j)))
    return s


_verf = np.vectorize(math.erf, otypes=[float])

# --------------------------------------------------------------------------------------
# 1  source, optics, pulse pattern
# --------------------------------------------------------------------------------------


def pulse_energy_limit(src: Source, tau_ns: float) -> float:
    """Largest pulse energy (J) at this pulse width. [S2.1]"""
    if src.kind == "fixed":
        return src.e_cap_mj * 1e-3
    if src.e_table:
        t = np.log([a for a, _ in src.e_table])
        e = np.log([b for _, b in src.e_table])
        return float(np.exp(np.interp(math.log(tau_ns), t, e))) * 1e-3
    return min(src.e_cap_mj * 1e-3, src.p_peak_max_kw * 1e3 * tau_ns * 1e-9)


def source_output(src: Source, st: Settings) -> Dict[str, float]:
    """Average power and pulse energy actually delivered, with derating below the minimum frequency. [S2.1]"""
    tau = src.tau_fixed_ns if src.kind == "fixed" else st.pulse_ns
    e_max = pulse_energy_limit(src, tau)
    f = st.freq_khz * 1e3
    f_min = src.p_nom_w / e_max
    derate = min(1.0, f / f_min)
    p = src.p_nom_w * st.power_pct / 100.0 * derate
    e = p / f
    shape = 0.94 if src.kind == "fixed" else 1.0     # Gaussian-like versus flat-topped pulse
    return dict(tau_s=tau * 1e-9, f_hz=f, f_min_hz=f_min, derate=derate, p_avg_w=p, e_pulse_j=e, p_peak_w=shape * e / (tau * 1e-9))


def beam(opt: Optics, focus_mm: float) -> Dict[str, float]:
    """Focal diameter, Rayleigh range and diameter at the focus offset (m). [S2.2]"""
    lam = opt.wavelength_nm * 1e-9
    d0 = 4 * opt.m2 * lam * opt.f_lens_mm / (math.pi * opt.beam_d_mm)
    zr = math.pi * d0 ** 2 / (4 * opt.m2 * lam)
    return dict(d0=d0, z_r=zr, d=d0 * math.sqrt(1 + (focus_mm * 1e-3 / zr) ** 2))


# --------------------------------------------------------------------------------------
# 2  temperatures
# --------------------------------------------------------------------------------------


def pulse_rise(t, tau: float, w: float, k: float, alpha: float):
    """Axis temperature at time t after pulse start per unit absorbed peak fluence (K m2/J). [S5.1]"""
    c = w / (tau * k * math.sqrt(2 * math.pi))
    t = np.asarray(t, float)
    return c * (np.arctan(np.sqrt(8 * alpha * t) / w) - np.arctan(np.sqrt(8 * alpha * np.maximum(t - tau, 0.0)) / w))


def moving_spot_rise(p_abs: float, w: float, v: float, h: float, k: float, alpha: float, t_line: float) -> float:
    """Peak rise under a moving continuous Gaussian spot on a plate of thickness h. [S5.2, S5.3]"""
    a = w / math.sqrt(2)
    pe = v * a / (4 * alpha)
    s2 = min(4 * alpha * t_line / a ** 2, 9 / pe + (6 / pe) ** 2)
    u, wt = _gl(48, 0.0, math.asinh(math.sqrt(s2)))
    s = np.sinh(u)
    base = wt * plate_factor(a * a * s * s / (4 * h * h)) / np.cosh(u)
    val = [float(np.sum(base * np.exp(-(-0.15 * i + pe * s * s) ** 2 / (1 + s * s)))) for i in range(9)]
    i = max(range(9), key=lambda j: val[j])
    best = val[i]
    if 0 < i < 8:
        y0, y1, y2 = val[i - 1:i + 2]
        best = y1 + (y0 - y2) ** 2 / (8 * (2 * y1 - y0 - y2)) if 2 * y1 - y0 - y2 > 0 else y1
    return p_abs / (math.pi ** 1.5 * k * a) * best


def line_accumulation(p_abs: float, w: float, v: float, pitch: float, line: float, n_lines: int, h: float, mat: Material, m: Model) -> float:
    """Rise left by all earlier lines of the fill at the centre of the last line. [S5.4]"""
    al = mat.k_bulk / mat.rc_bulk
    t_l = line / v + m.t_turn
    q = p_abs / v

    def g(j):
        t = j * t_l
        s2 = 4 * al * t
        b2 = s2 + w * w / 2
        return (2 * q / (mat.rc_bulk * np.pi * np.sqrt(s2 * b2)) * np.exp(-(j * pitch) ** 2 / b2)
                * _verf(line / 2 / np.sqrt(4 * al * t)) * plate_factor(al * t / h ** 2) * np.exp(-2 * m.h_loss * t / (mat.rc_bulk * h)))
    return _series(g, n_lines - 1) if n_lines > 1 else 0.0


def pass_accumulation(q_area: float, t_pass: float, n_prev: int, line: float, width: float, h: float, mat: Material, m: Model) -> float:
    """Rise left by n_prev earlier passes over the same rectangle. [S5.5]"""
    if n_prev < 1:
        return 0.0
    al = mat.k_bulk / mat.rc_bulk

    def g(j):
        t = j * t_pass
        r = 2 * np.sqrt(4 * al * t)
        return (q_area / (mat.rc_bulk * np.sqrt(np.pi * al * t)) * plate_factor(al * t / h ** 2)
                * _verf(line / r) * _verf(width / r) * np.exp(-2 * m.h_loss * t / (mat.rc_bulk * h)))
    return _series(g, n_prev)


def enthalpy_clip(t_lin, mat: Material):
    """Linear (enthalpy-like) temperature to real temperature: melting plateau, vaporisation ceiling. [S5.6]"""
    t = np.where(t_lin < mat.t_melt, t_lin, np.maximum(mat.t_melt, t_lin - mat.lc))
    return np.minimum(t, mat.t_vap)


def growth_constant(temp, mat: Material, gain: float):
    """Parabolic constant with supply-limited ceiling, x^2 = k t (m2/s). [S6.1]"""
    ka = gain * mat.k0 * np.exp(-mat.ea / (R_GAS * temp))
    return ka / (1 + ka / (gain * mat.k_sat))


# --------------------------------------------------------------------------------------
# 3  thin-film optics
# --------------------------------------------------------------------------------------


def metal_index(key: str) -> np.ndarray:
    n, k = METAL_NK[key]
    return np.interp(LAMBDA, LAMBDA20, n) - 1j * np.interp(LAMBDA, LAMBDA20, k)


def oxide_index(key: str) -> np.ndarray:
    n0, b, k1, k2, lk = OXIDE_NK[key][:5]
    return n0 + b / (LAMBDA * 1e-3) ** 2 - 1j * (k1 + k2 * np.exp(-(LAMBDA - 400.0) / lk))


def film_reflectance(x: float, theta_deg: float, n_ox, n_me) -> np.ndarray:
    """air / oxide of thickness x / metal, mean of s and p. [S8.1]"""
    s0 = math.sin(math.radians(theta_deg))
    c0 = math.cos(math.radians(theta_deg))
    c1 = np.sqrt(1 - (s0 / n_ox) ** 2)
    c2 = np.sqrt(1 - (s0 / n_me) ** 2)
    ph = np.exp(-4j * np.pi * n_ox * c1 * (x * 1e9) / LAMBDA)
    out = np.zeros(len(LAMBDA))
    for pol in "sp":
        if pol == "s":
            r1 = (c0 - n_ox * c1) / (c0 + n_ox * c1)
            r2 = (n_ox * c1 - n_me * c2) / (n_ox * c1 + n_me * c2)
        else:
            r1 = (n_ox * c0 - c1) / (n_ox * c0 + c1)
            r2 = (n_me * c1 - n_ox * c2) / (n_me * c1 + n_ox * c2)
        r = (r1 + r2 * ph) / (1 + r1 * r2 * ph)
        out += 0.5 * np.abs(r) ** 2
    return out


# 9-point Gauss-Hermite rule for a standard normal variable (nodes symmetric; weights sum to 1)
_GH_X, _GH_W = np.polynomial.hermite_e.hermegauss(9)
_GH_W = _GH_W / _GH_W.sum()


def oxide_cover(x: float, m: Model = MODEL) -> float:
    """Share of the surface covered by a continuous oxide. [S8.2]"""
    return 1 - math.exp(-(x / m.x_cov) ** 2)


def surface_reflectance(x: float, theta_deg: float, mat: Material, m: Model = MODEL) -> np.ndarray:
    """Film reflectance averaged over thickness spread, patchy cover and light trapping. [S8.2]"""
    n_me = metal_index(mat.metal_nk)
    bare = film_reflectance(0.0, theta_deg, np.ones(len(LAMBDA)) + 0j, n_me)
    if mat.oxide is None or x <= 0.0:
        return bare
    n_ox = oxide_index(mat.oxide)
    s0, s1 = OXIDE_NK[mat.oxide][5:]
    sig = s0 + s1 * (1 - math.exp(-x / 300e-9))
    r = sum(w * film_reflectance(max(0.0, x * (1 + sig * z)), theta_deg, n_ox, n_me) for z, w in zip(_GH_X, _GH_W))
    cover = oxide_cover(x, m)
    r = cover * r + (1 - cover) * bare
    return r ** (1 + m.b_max * (1 - math.exp(-(x / m.x_b) ** 2)))


def hemispherical_reflectance(x: float, mat: Material, m: Model = MODEL) -> np.ndarray:
    s2, w = _gl(3, 0.0, 1.0)
    return sum(wi * surface_reflectance(x, math.degrees(math.asin(math.sqrt(si))), mat, m) for si, wi in zip(s2, w))


@dataclass(frozen=True)
class Colour:
    angle_deg: float
    xyz: Tuple[float, float, float]
    lab: Tuple[float, float, float]
    srgb: Tuple[int, int, int]
    name: str


def _colour(angle: float, refl) -> Colour:
    xyz = spectrum_to_xyz(refl)
    lab = xyz_to_lab(xyz)
    return Colour(angle, tuple(float(v) for v in xyz), lab, xyz_to_srgb(xyz), colour_name(lab))


def film_colours(x: float, mat: Material, haze: float, angles=(0.0, 30.0, 60.0), m: Model = MODEL):
    """Returns (specular included, specular excluded, room appearance) colours per viewing angle. [S8.4, S8.5]"""
    hemi = hemispherical_reflectance(x, mat, m)
    sci, app = [], []
    for th in angles:
        spec = surface_reflectance(x, th, mat, m)
        env = m.env0 + (1 - m.env0) * math.exp(-(th / m.env_deg) ** 2)
        sci.append(_colour(th, (1 - haze) * spec + haze * hemi))
        app.append(_colour(th, (1 - haze) * env * spec + haze * hemi))
    return sci, _colour(-1.0, haze * hemi), app


# --------------------------------------------------------------------------------------
# 4  the prediction
# --------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Result:
    # source and beam
    p_avg_w: float
    derate: float
    f_min_khz: float
    e_pulse_uj: float
    p_peak_kw: float
    spot0_um: float
    rayleigh_mm: float
    spot_um: float
    fluence_j_cm2: float
    # pattern
    pulse_pitch_um: float
    pulse_overlap: float
    line_overlap: float
    pulses_per_mm2: float
    pulses_per_spot: float
    dose_j_mm2: float
    ripple: float
    time_s: float
    # temperatures (K; rises are differences, t_* absolute)
    absorptance: float
    dt_pulse: float
    t_peak: float
    dt_moving: float
    peclet: float
    dt_lines: float
    dt_passes: float
    t_between: float
    # growth and removal
    heat_kept: float
    t_eff_s: float
    oxide_nm: float
    abl_ratio: float
    z_pulse_um: float
    z_net_um: float
    # colour
    haze: float
    sci: Tuple[Colour, ...]
    sce: Colour
    app: Tuple[Colour, ...]
    l_star: float
    blackness: float
    colour_valid: bool
    # judgement
    regime: str
    neighbours: Dict[str, float]      # neighbouring regime -> distance in ln units, always >= 0
    margins: Dict[str, float]         # raw signed distances to every threshold (for tests)
    melt_index: float
    removal_index: float
    warp_index: float
    burn_index: float
    warnings: Tuple[str, ...]


def _check(src: Source, opt: Optics, st: Settings, wk: Work) -> None:
    def need(ok, code, text):
        if not ok:
            raise InputError(code, text)
    for obj in (src, opt, st, wk):
        for fl in fields(obj):
            v = getattr(obj, fl.name)
            if isinstance(v, float) and not math.isfinite(v):
                raise InputError("E_NOT_FINITE", fl.name)
    need(src.kind in ("fixed", "variable"), "E_SOURCE", "kind")
    need(1.0 <= src.p_nom_w <= 500.0 and 0.005 <= src.e_cap_mj <= 20.0, "E_SOURCE", "power or pulse energy")
    need(src.kind == "fixed" or 0.1 <= src.p_peak_max_kw <= 1000.0, "E_SOURCE", "peak power limit")
    need(not src.e_table or (all(a > 0 and b > 0 for a, b in src.e_table) and all(p[0] < q[0] for p, q in zip(src.e_table, src.e_table[1:]))),
         "E_SOURCE", "pulse energy table must be positive with rising pulse width")
    need(wk.material in MATERIALS, "E_MATERIAL", wk.material)
    need(wk.finish in FINISH and wk.coating in COATING, "E_MATERIAL", "finish or coating")
    need(20 <= opt.f_lens_mm <= 1000 and 1 <= opt.beam_d_mm <= 40 and 1 <= opt.m2 <= 10 and 900 <= opt.wavelength_nm <= 1200, "E_OPTICS", "lens, beam or M2")
    need(0 < st.power_pct <= 100, "E_POWER", "power_pct must be in (0, 100]")
    need(1 <= st.freq_khz <= src.f_max_khz, "E_FREQ", "frequency")
    tau = src.tau_fixed_ns if src.kind == "fixed" else st.pulse_ns
    need(1 <= tau <= 1000, "E_PULSE", "pulse width 1..1000 ns")
    need(tau * 1e-9 * st.freq_khz * 1e3 <= 0.5, "E_DUTY", "pulse width times frequency exceeds 0.5")
    need(1 <= st.speed_mm_s <= 20000, "E_SPEED", "speed")
    need(1e-4 <= st.hatch_mm <= 1.0, "E_HATCH", "hatch pitch")
    need(1 <= st.passes <= 10000 and int(st.passes) == st.passes, "E_PASSES", "passes")
    need(abs(st.focus_mm) <= 50, "E_FOCUS", "focus offset")
    need(0.02 <= wk.thickness_mm <= 100, "E_THICKNESS", "stock thickness")
    need(0.1 <= wk.line_length_mm <= 1000 and 0.01 <= wk.area_mm2 <= 1e6, "E_AREA", "fill size")
    need(-50 <= wk.t_start_c <= 500, "E_TSTART", "start temperature")
    need(0.05 <= wk.k_gain <= 20, "E_GAIN", "k_gain")


def predict(src: Source, opt: Optics, st: Settings, wk: Work, m: Model = MODEL, angles=(0.0, 30.0, 60.0)) -> Result:
    _check(src, opt, st, wk)
    angles = tuple(float(a) for a in angles)
    if not angles or angles[0] != 0.0:
        angles = (0.0,) + angles                  # L*, blackness and names refer to normal view
    if any(not 0.0 <= a <= 80.0 for a in angles):
        raise InputError("E_ANGLE", "viewing angle 0..80 deg")
    mat = MATERIALS[wk.material]
    warn: List[str] = []

    # -- source, beam, pattern -------------------------------------------------------- [S2, S3]
    so = source_output(src, st)
    bm = beam(opt, st.focus_mm)
    P, f, tau, E = so["p_avg_w"], so["f_hz"], so["tau_s"], so["e_pulse_j"]
    d = bm["d"]
    w = d / 2
    v, p, h = st.speed_mm_s * 1e-3, st.hatch_mm * 1e-3, wk.thickness_mm * 1e-3
    F0 = 2 * E / (math.pi * w * w)
    dx = v / f
    n1 = f / (v * p)                              # pulses per m2 and pass
    n = n1 * st.passes
    spot_area = math.pi * w * w
    ang = math.radians(st.hatch_angle_deg)
    width0 = wk.area_mm2 / wk.line_length_mm
    across = (wk.line_length_mm * abs(math.sin(ang)) + width0 * abs(math.cos(ang))) * 1e-3
    line = wk.area_mm2 * 1e-6 / across            # mean line length
    n_lines = max(1, int(math.floor(across / p + 0.5)))
    t_pass = n_lines * (line / v + m.t_turn)
    ripple = 2 * math.exp(-(math.pi * w / (2 * max(p, dx))) ** 2)

    # -- temperatures ----------------------------------------------------------------- [S5]
    fin_a, haze0 = FINISH[wk.finish]
    A = min(0.95, mat.a0 * fin_a)
    k, al = mat.k_hot, mat.k_hot / mat.rc_hot
    T0 = wk.t_start_c + 273.15
    pk = float(pulse_rise(tau, tau, w, k, al))    # K per (J/m2) absorbed
    t_top = mat.t_vap + mat.lc                    # enthalpy temperature at which vaporisation starts
    q, qw = _gl(24, 0.0, 10.0)                    # q = 2 r^2 / w^2
    q, qw = np.append(0.0, q), np.append(0.0, qw)  # entry 0 is the beam axis, with zero weight
    Fq = A * F0 * np.exp(-q)

    def retained(t_pre):
        lim = np.maximum(t_top - t_pre, 1.0) / pk
        return np.where(Fq > lim, lim + m.eps_res * (Fq - lim), Fq), lim

    Fe, _ = retained(T0 + 0 * q)
    kept = float(np.sum(qw * Fe) / np.sum(qw * Fq))
    P_heat = A * P * kept
    dT_lines = line_accumulation(P_heat, w, v, p, line, n_lines, h, mat, m)
    dT_pass = pass_accumulation(P_heat / (v * p), t_pass, st.passes - 1, line, n_lines * p, h, mat, m)
    T_base = T0 + dT_lines + 0.5 * dT_pass
    dT_mov = moving_spot_rise(P_heat, w, v, h, k, al, line / v)
    pe = v * (w / math.sqrt(2)) / (4 * al)
    Tq = dT_mov * np.array([i0e(0.5 * qi) for qi in q])

    def between(t, fe, tq):                       # contribution of all earlier pulses of the same line
        return np.maximum(0.0, tq - fe * f * w / (k * math.sqrt(2 * math.pi)) * np.arctan(np.sqrt(8 * al * (t + 0.5 / f)) / w))

    t_pre = T_base + between(0.0, Fe, Tq)
    Fe, lim = retained(t_pre)

    # -- oxide growth over the pulse cycle and over the beam profile --------------------- [S6]
    s, ws = _gl(12, 0.0, 1.0)
    u, wu = _gl(40, 0.0, math.asinh(math.sqrt(1 / (f * tau) - 1)))
    t = np.concatenate([tau * s ** 2, tau + tau * np.sinh(u) ** 2])
    wt = np.concatenate([2 * tau * s * ws, 2 * tau * np.sinh(u) * np.cosh(u) * wu])
    T_lin = T_base + between(t[None, :], Fe[:, None], Tq[:, None]) + Fe[:, None] * pulse_rise(t, tau, w, k, al)[None, :]
    if mat.oxide is None:
        S = 0.0
        x = 0.0
        t_eff = 0.0
    else:
        gain = wk.k_gain * COATING[wk.coating]
        K1 = np.sum(growth_constant(enthalpy_clip(T_lin, mat), mat, gain) * wt[None, :], axis=1)
        S = n * 0.5 * math.pi * w * w * float(np.sum(K1 * qw))
        x = math.sqrt(m.x_native ** 2 + S)
        t_eff = S / float(growth_constant(mat.t_melt, mat, gain))
        x = min(x, m.x_max)

    # axis values
    t_between, lim0 = float(t_pre[0]), float(lim[0])
    t_lin0 = t_between + A * F0 * pk              # unclipped, before any vaporisation
    t_peak = float(enthalpy_clip(t_lin0, mat))

    # -- removal ------------------------------------------------------------------------ [S7]
    r = A * F0 / lim0
    z_pulse = max(0.0, A * F0 - lim0) / mat.rlv
    z_net = m.eta_rem * n * 0.5 * math.pi * w * w * A * F0 / mat.rlv * (1 - (1 + math.log(r)) / r) if r > 1 else 0.0

    # -- colour ------------------------------------------------------------------------- [S8]
    n_spot = n * spot_area
    tex = m.haze_max * (1 - math.exp(-(n_spot / m.n_haze) ** 2)) * oxide_cover(x, m)
    tex = 1 - (1 - tex) * math.exp(-z_net / m.z_haze)
    haze = haze0 + (1 - haze0) * tex
    sci, sce, app = film_colours(x, mat, haze, angles, m)
    L0 = sci[0].lab[0]

    # -- regime ------------------------------------------------------------------------- [S9]
    melt = (t_between - T0) / (mat.t_melt + 0.5 * mat.lc - T0)
    if mat.oxide is None:
        melt = max(melt, (t_lin0 - T0) / (mat.t_melt + 0.5 * mat.lc - T0))
    rem = max(z_pulse / m.zp_crit, z_net / m.z_crit)
    lx = math.log
    steps = [("too cold", 0.0)]
    if mat.oxide is not None:
        steps += [("tint", m.x_tint), ("interference colour", mat.x_col), ("dark anneal", mat.x_dark)]
    i = max(j for j in range(len(steps)) if x >= steps[j][1])
    regime = "ablation" if rem >= 1 else "surface melting" if melt >= 1 else steps[i][0]
    near: Dict[str, float] = {}
    if rem >= 1:
        near["surface melting" if melt >= 1 else steps[i][0]] = lx(rem)
    elif melt >= 1:
        near[steps[i][0]] = lx(melt)
        near["ablation"] = -lx(max(rem, 1e-6))
    else:
        if i > 0:
            near[steps[i - 1][0]] = lx(x / steps[i][1])
        if i + 1 < len(steps):
            near[steps[i + 1][0]] = lx(steps[i + 1][1] / x)
        near["surface melting"] = -lx(max(melt, 1e-6))
        near["ablation"] = -lx(max(rem, 1e-6))
    valid = regime not in ("ablation", "surface melting")
    if not valid:
        warn.append("W_COLOUR_INVALID: the surface is removed or molten, the predicted colour has no meaning")
    elif x >= m.x_max:
        warn.append("W_SCALE: oxide beyond the modelled range, it may flake")
    margins = {"ablation": -lx(max(rem, 1e-6)), "surface melting": -lx(max(melt, 1e-6))}
    if mat.oxide is not None:
        margins.update({"tint": lx(x / m.x_tint), "interference colour": lx(x / mat.x_col), "dark anneal": lx(x / mat.x_dark)})

    # -- plate risks -------------------------------------------------------------------- [S11]
    size = max(line, n_lines * p)
    r_fill = math.sqrt(wk.area_mm2 * 1e-6 / math.pi)
    dT_bulk = dT_lines + dT_pass
    dT_cr = 0.94 * (h / r_fill) ** 2 / mat.cte
    dwell = d / v
    delta_p = 1 / (1 / w + 1 / math.sqrt(4 * al * dwell))
    dT_y = 2 * mat.eps_y / mat.cte
    plast = max(0.0, 1 - dT_y / max(dT_mov, 1e-9))
    bow = 6 * mat.eps_y * delta_p * plast / h ** 2 * size ** 2 / 8
    warp = dT_bulk / dT_cr + bow / 0.1e-3
    h_rem = max(h - z_net, 0.02 * h)
    reach = w + math.sqrt(al * dwell)
    lig = dT_bulk + moving_spot_rise(P_heat, w, v, h_rem, k, al, line / v)
    burn = z_net / (0.5 * h) + lig / (mat.t_melt - T0) * math.exp(-h_rem / reach)

    if so["derate"] < 1:
        warn.append("W_DERATED: below the minimum frequency of this pulse width, power is reduced")
    if dx > 0.5 * d or p > 0.5 * d:
        warn.append("W_GAPS: pulses or lines do not overlap enough, the averages are not valid")
    if wk.coating != "none":
        warn.append("W_COATED: coated surface, remove the coating first")
    if mat.oxide is None:
        warn.append("W_NO_COLOUR: no interference oxide is modelled for this metal")
    if F0 >= m.f_clean and rem < 0.3 and regime in ("too cold", "tint") and t_lin0 <= mat.t_melt + mat.lc:
        warn.append("N_CLEANING: removes films and grease without marking")
    if t_lin0 > mat.t_melt + mat.lc and regime not in ("ablation", "surface melting"):
        warn.append("N_PULSE_MELT: each pulse melts a sub-micrometre skin (normal for colour marking)")
    if ripple > 0.2:
        warn.append("W_STRIPES: visible line structure expected")
    if warp > 1:
        warn.append("W_WARP: the part is likely to move or warp")
    if burn > 1:
        warn.append("W_BURN: risk of burning through")

    return Result(
        p_avg_w=P, derate=so["derate"], f_min_khz=so["f_min_hz"] * 1e-3, e_pulse_uj=E * 1e6, p_peak_kw=so["p_peak_w"] * 1e-3,
        spot0_um=bm["d0"] * 1e6, rayleigh_mm=bm["z_r"] * 1e3, spot_um=d * 1e6, fluence_j_cm2=F0 * 1e-4,
        pulse_pitch_um=dx * 1e6, pulse_overlap=1 - dx / d, line_overlap=1 - p / d, pulses_per_mm2=n * 1e-6, pulses_per_spot=n_spot,
        dose_j_mm2=E * n * 1e-6, ripple=ripple, time_s=t_pass * st.passes,
        absorptance=A, dt_pulse=A * F0 * pk, t_peak=t_peak, dt_moving=dT_mov, peclet=pe, dt_lines=dT_lines, dt_passes=dT_pass,
        t_between=t_between, heat_kept=kept, t_eff_s=t_eff, oxide_nm=x * 1e9, abl_ratio=r, z_pulse_um=z_pulse * 1e6, z_net_um=z_net * 1e6,
        haze=haze, sci=tuple(sci), sce=sce, app=tuple(app), l_star=L0, blackness=max(0.0, min(1.0, (60 - L0) / 40)), colour_valid=valid,
        regime=regime, neighbours=near, margins=margins, melt_index=melt, removal_index=rem, warp_index=warp, burn_index=burn, warnings=tuple(warn))


def colour_range(r: Result, wk: Work, rel: float = 0.30, m: Model = MODEL) -> Tuple[Colour, Colour, Colour]:
    """Normal-view colours at oxide thickness x/(1+rel), x, x*(1+rel): what to show as uncertainty. [S12.3]"""
    mat = MATERIALS[wk.material]
    return tuple(film_colours(r.oxide_nm * 1e-9 * g, mat, r.haze, (0.0,), m)[0][0] for g in (1 / (1 + rel), 1.0, 1 + rel))


def gain_from_observation(x_predicted_nm: float, x_observed_nm: float, gain_used: float = 1.0, m: Model = MODEL) -> float:
    """Local calibration: growth scales exactly with k_gain, so one observed thickness fixes it. [S10.3]"""
    n2 = (m.x_native * 1e9) ** 2
    if x_predicted_nm ** 2 <= n2 or x_observed_nm ** 2 <= n2:
        raise InputError("E_GAIN", "thickness must exceed the native oxide")
    return gain_used * (x_observed_nm ** 2 - n2) / (x_predicted_nm ** 2 - n2)


# --------------------------------------------------------------------------------------
# 5  robustness
# --------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Sensitivity:
    de_focus: float           # largest Delta E*ab for the focus moved by +-df
    de_power: float           # ... power +-dp (relative)
    de_thickness: float       # ... stock thickness +-dh (relative)
    dlnx_dlnp: float          # d ln(oxide thickness) / d ln(power)
    de_per_percent_x: float   # Delta E*ab per 1 % of oxide thickness
    fragility: float          # root sum of squares of the three Delta E
    regime_changes: Tuple[str, ...]


def sensitivity(src, opt, st, wk, m: Model = MODEL, df_mm=0.3, dp=0.03, dh=0.10) -> Sensitivity:
    """Central finite differences around a setting. [S11.4]"""
    r0 = predict(src, opt, st, wk, m, (0.0,))
    lab0 = r0.sci[0].lab
    changes = []

    def run(st2, wk2, tag, src2=src):
        r = predict(src2, opt, st2, wk2, m, (0.0,))
        if r.regime != r0.regime:
            changes.append(f"{tag}: {r.regime}")
        return r
    fo = [run(replace(st, focus_mm=st.focus_mm + s), wk, f"focus {s:+g} mm") for s in (-df_mm, df_mm)]
    # power drift acts on the emitted power, also at 100 %, so it scales the source, not the percentage
    po = [run(st, wk, f"power {100*s:+g} %", replace(src, p_nom_w=src.p_nom_w * (1 + s), e_cap_mj=src.e_cap_mj * (1 + s),
              p_peak_max_kw=src.p_peak_max_kw * (1 + s), e_table=None if src.e_table is None else tuple((a, b * (1 + s)) for a, b in src.e_table)))
          for s in (-dp, dp)]
    th = [run(st, replace(wk, thickness_mm=wk.thickness_mm * (1 + s)), f"thickness {100*s:+g} %") for s in (-dh, dh)]
    de = [max(delta_e(r.sci[0].lab, lab0) for r in g) for g in (fo, po, th)]
    mat = MATERIALS[wk.material]
    if mat.oxide is None or r0.oxide_nm <= 0:
        slope, per = 0.0, 0.0
    else:
        slope = math.log(po[1].oxide_nm / po[0].oxide_nm) / math.log((1 + dp) / (1 - dp))
        c = [film_colours(r0.oxide_nm * 1e-9 * g, mat, r0.haze, (0.0,), m)[0][0].lab for g in (0.99, 1.01)]
        per = 0.5 * delta_e(*c)
    return Sensitivity(de[0], de[1], de[2], slope, per, math.sqrt(sum(v * v for v in de)), tuple(changes))
