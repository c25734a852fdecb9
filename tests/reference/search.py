# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""search.py - prior, film colours, posterior, cover and order of the search for a mark with the least scrap.

Pure functions of their inputs. Method: docs/search.md. Settings rows: power %, kHz, ns, mm/s, pitch mm, passes, focus offset mm."""
import math
from dataclasses import dataclass
import numpy as np
import anneal_color as ac
from bench_math import delta_e00
erf = np.vectorize(math.erf, otypes=[float])
ndtr = np.vectorize(lambda x: 0.5 * math.erfc(-x / math.sqrt(2)), otypes=[float])

# ------------------------------------------------------------------------------------------------ 1  prior
# A setting is a row [power %, kHz, ns, mm/s, pitch mm, passes, focus mm].
P_, F_, TAU, V_, PITCH, NPASS, Z_ = range(7)


@dataclass(frozen=True)
class Machine:                       # the demo bench of the program: variable pulse width, 38 W, 210 mm lens
    p_nom: float = 38.0
    e_cap: float = 1.0e-3
    p_peak: float = 10e3
    f_lens: float = 0.210
    beam: float = 7e-3
    m2: float = 1.5
    lam: float = 1064e-9
    low: tuple = (1, 1, 2, 1, 1e-4, 1, -10)
    high: tuple = (100, 1500, 350, 9000, 1, 10000, 10)


MACHINE = Machine()
MAT = ac.MATERIALS["ss304"]
MOD = ac.MODEL
PLATE = 1.4e-3                       # m
START = 21.0                         # C
NATIVE2 = (MOD.x_native * 1e9) ** 2  # nm2
CELL = (5.0, 4.0)                    # mm
HAZE0 = ac.FINISH["standard"][1]
_q, _qw = ac._gl(24, 0.0, 10.0)
_q, _qw = np.append(0.0, _q), np.append(0.0, _qw)
_i0 = np.array([ac.i0e(0.5 * v) for v in _q])
_on, _won = ac._gl(12, 0.0, 1.0)
_af, _waf = np.polynomial.legendre.leggauss(40)
_m48, _w48 = np.polynomial.legendre.leggauss(48)
_s32, _w32 = np.polynomial.legendre.leggauss(32)


def _plate(fo):
    m = np.arange(1.0, 5.0).reshape((4,) + (1,) * fo.ndim)
    return np.where(fo < 0.6, 1 + 2 * np.exp(-m ** 2 / np.maximum(fo, 1e-9)).sum(0),
                    np.sqrt(np.pi * fo) * (1 + 2 * np.exp(-(m * np.pi) ** 2 * fo).sum(0)))


def thermal(S, absorb=1.0, power=1.0, spot=1.0, focus=0.0, dT=0.0, ea=1.0, spot_direct=None, cell=CELL, chunk=1500):
    """The anneal-color model for many settings at once (no colour). Factors may be scalars or arrays of len(S).
    Returns dict: G = ln of grown film squared in nm2 at gain 1, tex-free quantities for haze, melt, removal, seconds, ..."""
    S = np.atleast_2d(np.asarray(S, float)); n = len(S)
    b = lambda x: np.broadcast_to(np.asarray(x, float), (n,))
    par = [b(absorb), b(power), b(spot), b(focus), b(dT), b(ea), b(np.nan if spot_direct is None else spot_direct)]
    out = {}
    for i in range(0, n, chunk):
        r = _thermal(S[i:i + chunk], *[p[i:i + chunk] for p in par], cell)
        for k, v in r.items(): out.setdefault(k, []).append(v)
    return {k: np.concatenate(v) for k, v in out.items()}


def _thermal(S, fa, fp, fs, fz, dT, ea, direct, cell):
    M, m = MACHINE, MOD
    tau, f, v, p, npass = S[:, TAU] * 1e-9, S[:, F_] * 1e3, S[:, V_] * 1e-3, S[:, PITCH] * 1e-3, np.round(S[:, NPASS])
    p_nom = M.p_nom * fp
    emax = np.minimum(M.e_cap, M.p_peak * tau); fmin = p_nom / emax
    P = p_nom * S[:, P_] / 100 * np.minimum(1.0, f / fmin); E = P / f
    d0 = 4 * M.m2 * fs * M.lam * M.f_lens / (np.pi * M.beam); zr = np.pi * d0 ** 2 / (4 * M.m2 * fs * M.lam)
    d = d0 * np.sqrt(1 + ((S[:, Z_] + fz) * 1e-3 / zr) ** 2); d = np.where(np.isnan(direct), d, direct * 1e-3)
    w = d / 2; F0 = 2 * E / (np.pi * w * w); n1 = f / (v * p); nn = n1 * npass; h = PLATE
    line = cell[0] * 1e-3; width = cell[1] * 1e-3
    nl = np.maximum(1, np.floor(width / p + 0.5)); tpass = nl * (line / v + m.t_turn)
    A = np.minimum(0.95, MAT.a0 * fa); k, al = MAT.k_hot, MAT.k_hot / MAT.rc_hot; T0 = START + dT + 273.15
    rt2 = math.sqrt(2 * np.pi)
    c = w / (tau * k * rt2)
    rise = lambda t: c[:, None] * (np.arctan(np.sqrt(8 * al * t) / w[:, None]) - np.arctan(np.sqrt(8 * al * np.maximum(t - tau[:, None], 0)) / w[:, None]))
    pk = rise(tau[:, None])[:, 0]; top = MAT.t_vap + MAT.lc
    Fq = (A * F0)[:, None] * np.exp(-_q)

    def retained(pre):
        lim = np.maximum(top - pre, 1.0) / pk[:, None]; return np.where(Fq > lim, lim + m.eps_res * (Fq - lim), Fq), lim
    Fe, _ = retained(T0[:, None] + 0 * _q); kept = (Fe @ _qw) / (Fq @ _qw); Ph = A * P * kept
    # earlier lines
    alb = MAT.k_bulk / MAT.rc_bulk; tl = line / v + m.t_turn
    nprev = nl - 1
    j = np.concatenate([np.arange(1.0, 17)[None] + 0 * nprev[:, None], np.zeros((len(S), 32))], 1); wj = (j <= nprev[:, None]).astype(float)
    a_, b_ = math.log(16.5), np.log(np.maximum(nprev, 17) + 0.5)
    y = 0.5 * (b_ - a_)[:, None] * _s32 + 0.5 * (b_ + a_)[:, None]; j[:, 16:] = np.exp(y)
    wj[:, 16:] = np.where(nprev[:, None] > 16, 0.5 * (b_ - a_)[:, None] * _w32 * j[:, 16:], 0)
    t = j * tl[:, None]; s2 = 4 * alb * t; b2 = s2 + (w * w / 2)[:, None]
    g = (2 * (Ph / v)[:, None] / (MAT.rc_bulk * np.pi * np.sqrt(s2 * b2)) * np.exp(-(j * p[:, None]) ** 2 / b2) * erf(line / 2 / np.sqrt(s2))
         * _plate(alb * t / h ** 2) * np.exp(-2 * m.h_loss * t / (MAT.rc_bulk * h)))
    lines = (g * wj).sum(1)
    passes = np.zeros(len(S))
    for i in np.nonzero(npass > 1)[0]:
        passes[i] = ac.pass_accumulation(float(Ph[i] / (v[i] * p[i])), float(tpass[i]), int(npass[i]) - 1, line, float(nl[i] * p[i]), h, MAT, m)
    base = T0 + lines + 0.5 * passes
    # moving spot
    a = w / math.sqrt(2); pe = v * a / (4 * al); reach = np.minimum(4 * al * (line / v) / a ** 2, 9 / pe + (6 / pe) ** 2); end = np.arcsinh(np.sqrt(reach))
    u = 0.5 * end[:, None] * (_m48 + 1); s = np.sinh(u); bs = 0.5 * end[:, None] * _w48 * _plate(a[:, None] ** 2 * s * s / (4 * h * h)) / np.cosh(u)
    val = np.stack([(bs * np.exp(-(pe[:, None] * s * s - 0.15 * i) ** 2 / (1 + s * s))).sum(1) for i in range(9)], 1)
    top_i = val.argmax(1); best = val[np.arange(len(S)), top_i]; mid = (top_i > 0) & (top_i < 8); ii = np.nonzero(mid)[0]
    if len(ii):
        y0, y1, y2 = val[ii, top_i[ii] - 1], val[ii, top_i[ii]], val[ii, top_i[ii] + 1]; bend = 2 * y1 - y0 - y2
        best[ii] = np.where(bend > 0, y1 + (y0 - y2) ** 2 / (8 * np.where(bend > 0, bend, 1)), y1)
    mov = Ph / (np.pi ** 1.5 * k * a) * best
    Tq = mov[:, None] * _i0
    dec = lambda t: (f * w / (k * rt2))[:, None] * np.arctan(np.sqrt(8 * al * (t + 0.5 / f[:, None])) / w[:, None])
    pre = base[:, None] + np.maximum(0, Tq - Fe * dec(np.zeros((len(S), 1))))
    Fe, lim = retained(pre)
    ts = np.concatenate([tau[:, None] * _on ** 2, np.zeros((len(S), len(_af)))], 1); ws = np.concatenate([2 * tau[:, None] * _on * _won, np.zeros((len(S), len(_af)))], 1); no = len(_on)
    e2 = np.arcsinh(np.sqrt(np.maximum(1 / (f * tau) - 1, 1e-9))); uu = 0.5 * e2[:, None] * (_af + 1)
    ts[:, no:] = tau[:, None] * (1 + np.sinh(uu) ** 2); ws[:, no:] = 2 * tau[:, None] * np.sinh(uu) * np.cosh(uu) * 0.5 * e2[:, None] * _waf
    D, R = dec(ts), rise(ts)
    T = base[:, None, None] + np.maximum(0, Tq[:, 1:, None] - Fe[:, 1:, None] * D[:, None, :]) + Fe[:, 1:, None] * R[:, None, :]
    T = np.where(T < MAT.t_melt, T, np.maximum(MAT.t_melt, T - MAT.lc)); T = np.minimum(T, MAT.t_vap)
    Ea = MAT.ea * ea; k0 = MAT.k0 * np.exp((Ea - MAT.ea) / (ac.R_GAS * 1600))
    ka = k0[:, None, None] * np.exp(-(Ea / ac.R_GAS)[:, None, None] / T); K = ka / (1 + ka / MAT.k_sat)
    grown = nn * 0.5 * np.pi * w * w * ((K * ws[:, None, :]).sum(2) @ _qw[1:])
    r = A * F0 / lim[:, 0]; zp = np.maximum(0, A * F0 - lim[:, 0]) / MAT.rlv
    rr = np.maximum(r, 1.0); zn = np.where(r > 1, m.eta_rem * nn * 0.5 * np.pi * w * w * A * F0 / MAT.rlv * (1 - (1 + np.log(rr)) / rr), 0)
    melt = (pre[:, 0] - T0) / (MAT.t_melt + 0.5 * MAT.lc - T0); rem = np.maximum(zp / m.zp_crit, zn / m.z_crit)
    return dict(G=np.log(np.maximum(grown * 1e18, 1e-9)), n_spot=nn * np.pi * w * w, z_net=zn, melt=melt, removal=rem, seconds=tpass * npass,
                dose=E * nn * 1e-6, pulses=nn * 1e-6, fluence=F0 * 1e-4, peak=E / tau, absorbed=A * P, spot=d)


def haze_of(th, h_nm):
    tex = MOD.haze_max * (1 - np.exp(-(th["n_spot"] / MOD.n_haze) ** 2)) * (1 - np.exp(-(h_nm * 1e-9 / MOD.x_cov) ** 2))
    tex = 1 - (1 - tex) * np.exp(-th["z_net"] / MOD.z_haze)
    return HAZE0 + (1 - HAZE0) * tex


def features(th):
    """ln dose, ln pulses, ln fluence, ln peak power, each about an ordinary value."""
    return np.stack([np.log(th["dose"]), np.log(th["pulses"] / 8e4), np.log(th["fluence"]), np.log(th["peak"] / 600)], 1)


# ------------------------------------------------------------------------------------------------ 2  film colours
class Film:
    """Lab by thickness (nm) and haze: XYZ of the mirror part and of the scattered part in a table, mixed."""
    STEP, TOP = 2.0, 1000.0

    def __init__(self, k_factor=1.0, spread=1.0):
        n_me = ac.metal_index(MAT.metal_nk); n_ox = ac.oxide_index(MAT.oxide); n_ox = n_ox.real + 1j * n_ox.imag * k_factor
        h = np.arange(0, self.TOP + 1, self.STEP); s0, s1 = ac.OXIDE_NK[MAT.oxide][5:]
        sig = (s0 + s1 * (1 - np.exp(-h / 300))) * spread
        thick = np.maximum(0, h[:, None] * (1 + sig[:, None] * ac._GH_X))             # (H,9)

        def surface(theta):
            s, c0 = math.sin(math.radians(theta)), math.cos(math.radians(theta))
            c1, c2 = np.sqrt(1 - (s / n_ox) ** 2), np.sqrt(1 - (s / n_me) ** 2)
            ph = np.exp(-4j * np.pi * n_ox * c1 * thick[..., None] / ac.LAMBDA); R = 0; bare = 0
            for r1, r2, r0 in (((c0 - n_ox * c1) / (c0 + n_ox * c1), (n_ox * c1 - n_me * c2) / (n_ox * c1 + n_me * c2), (c0 - n_me * c2) / (c0 + n_me * c2)),
                               ((n_ox * c0 - c1) / (n_ox * c0 + c1), (n_me * c1 - n_ox * c2) / (n_me * c1 + n_ox * c2), (n_me * c0 - c2) / (n_me * c0 + c2))):
                R = R + 0.5 * np.abs((r1 + r2 * ph) / (1 + r1 * r2 * ph)) ** 2; bare = bare + 0.5 * np.abs(r0) ** 2
            R = np.einsum("hnl,n->hl", R, ac._GH_W); cov = (1 - np.exp(-(h * 1e-9 / MOD.x_cov) ** 2))[:, None]
            return (cov * R + (1 - cov) * bare) ** (1 + MOD.b_max * (1 - np.exp(-(h * 1e-9 / MOD.x_b) ** 2)))[:, None]
        s2, w2 = ac._gl(3, 0.0, 1.0)
        self.mirror = surface(0.0) @ ac._W.T
        self.hemi = sum(wi * surface(math.degrees(math.asin(math.sqrt(si)))) for si, wi in zip(s2, w2)) @ ac._W.T

    def lab(self, h_nm, haze):
        h_nm, haze = np.broadcast_arrays(np.asarray(h_nm, float), np.asarray(haze, float))
        x = np.clip(h_nm / self.STEP, 0, len(self.mirror) - 1.001); i = x.astype(int); t = (x - i)[..., None]; q = haze[..., None]
        xyz = (1 - q) * ((1 - t) * self.mirror[i] + t * self.mirror[i + 1]) + q * ((1 - t) * self.hemi[i] + t * self.hemi[i + 1])
        r = xyz / ac.WHITE; f = np.where(r > 216 / 24389, np.cbrt(r), (24389 / 27 * r + 16) / 116)
        return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], -1)


FILM = Film()

# ------------------------------------------------------------------------------------------------ 4  Learner
U = np.linspace(math.log(4), math.log(1000), 520)          # grid of u = ln film thickness (nm)
DU = U[1] - U[0]
U_REF = math.log(50)
THETA = ("ln growth", "ln absorbed power", "ln spot", "slope", "neighbour heat")
MU0 = np.array([0, 0, 0, 0, .3]); SD0 = np.array([.30, .12, .06, .15, .20])
AMPS, SCALES = (.02, .05, .12), (1.0, 2.0)                 # GP amplitude in u, widening of the prior
LENGTH, NUGGET = 1.0, .015
READ_SD, COLOUR_SD, HAZE_SD, LAB_AMP, LAB_CONST = .7, .6, .08, .7, 1.0
HZ = np.array([-.10, -.05, 0, .05, .10])


class Points:
    """Settings with all the prior knows of them: an emulator of G = ln(h^2 - native^2) in (ln absorbed power, ln spot, 10 K warmer)."""
    EPS_A, EPS_S, EPS_T = .15, .10, 40.0

    def __init__(self, S=None):
        if S is None: return
        S = np.atleast_2d(np.asarray(S, float)); n = len(S); ea, es = math.exp(self.EPS_A), math.exp(self.EPS_S)
        A = np.repeat([1, ea, 1 / ea, 1, 1, 1], n); s = np.repeat([1, 1, 1, es, 1 / es, 1], n); T = np.repeat([0, 0, 0, 0, 0, self.EPS_T], n)
        t = thermal(np.tile(S, (6, 1)), absorb=A, spot=s, dT=T); G = t["G"].reshape(6, n); th = {k: v[:n] for k, v in t.items()}
        self.S, self.G0, self.Ga, self.Gaa = S, G[0], (G[1] - G[2]) / (2 * self.EPS_A), (G[1] + G[2] - 2 * G[0]) / self.EPS_A ** 2
        self.Gs, self.Gss, self.GT = (G[3] - G[4]) / (2 * self.EPS_S), (G[3] + G[4] - 2 * G[0]) / self.EPS_S ** 2, (G[5] - G[0]) / self.EPS_T
        self.Ga, self.Gaa, self.Gs, self.Gss, self.GT = np.clip(self.Ga, 0, 25), np.clip(self.Gaa, -40, 40), np.clip(self.Gs, -40, 10), np.clip(self.Gss, -80, 80), np.clip(self.GT, 0, .05)
        self.Z, self.seconds, self.absorbed = features(th), th["seconds"], th["absorbed"]
        self.haze = haze_of(th, np.sqrt(NATIVE2 + np.exp(G[0])))
        self.danger = np.log(np.maximum(np.maximum(th["melt"], th["removal"]), 1e-3)); self.dT = np.zeros(n)
    FIELDS = ("S", "G0", "Ga", "Gaa", "Gs", "Gss", "GT", "Z", "seconds", "absorbed", "haze", "danger", "dT")

    def take(self, i):
        p = Points()
        for k in self.FIELDS: setattr(p, k, getattr(self, k)[i].copy())
        return p

    @staticmethod
    def join(ps):
        p = Points()
        for k in Points.FIELDS: setattr(p, k, np.concatenate([getattr(q, k) for q in ps]))
        return p

    def u(self, th):
        """ln thickness and its derivatives with respect to theta."""
        G = self.G0 + th[0] + self.Ga * th[1] + .5 * self.Gaa * th[1] ** 2 + self.Gs * th[2] + .5 * self.Gss * th[2] ** 2 + self.GT * self.dT * th[4]
        e = np.exp(np.minimum(G, 40)); u = .5 * np.log(NATIVE2 + e); g = .5 * e / (NATIVE2 + e)
        J = np.stack([g, g * (self.Ga + self.Gaa * th[1]), g * (self.Gs + self.Gss * th[2]), u - U_REF, g * self.GT * self.dT], 1)
        J[:, [0, 1, 2, 4]] *= 1 + th[3]
        return u + th[3] * (u - U_REF), J


def kernel(Z1, Z2):
    """Matern 5/2 in the four derived quantities (ln units)."""
    r = np.sqrt(np.maximum(((Z1[:, None] - Z2[None]) ** 2).sum(-1), 0)) / LENGTH * math.sqrt(5); return (1 + r + r * r / 3) * np.exp(-r)


def _chol(C):
    j = 1e-9 * float(np.diag(C).max())
    while True:
        try: return np.linalg.cholesky(C + j * np.eye(len(C)))
        except np.linalg.LinAlgError:
            j *= 30
            if j > 1e3 * float(np.diag(C).max()): return np.diag(np.sqrt(np.maximum(np.diag(C), 1e-8)))


def log_t(d2, nu=4.0): return -.5 * (nu + 3) * np.log1p(d2 / nu)


class Learner:
    """Posterior of ln thickness, haze, colour discrepancy and damage threshold of one lot on one bench, from everything burned so far.
    Mixture of at most three Gaussian modes (hue repeats with film order, so the offset is multimodal)."""

    def __init__(self, film=FILM, scales=SCALES, amps=AMPS, sd0=SD0, robust=True):
        self.film, self.scales, self.amps, self.sd0, self.robust = film, scales, amps, np.asarray(sd0), robust
        self.points = None; self.y = np.zeros((0, 3)); self.conf = np.zeros(0); self.burnt = np.zeros(0, bool); self.modes = None; self.damage = (0.0, .35)

    def add(self, points, y, conf, burnt):
        self.points = points if self.points is None else Points.join([self.points, points])
        self.y = np.vstack([self.y, y]); self.conf = np.r_[self.conf, conf]; self.burnt = np.r_[self.burnt, burnt]; self.fit()

    # -- likelihood of one reading over the grid of u
    def _sd2(self, y, conf): return (READ_SD / np.clip(conf, .3, 1) * .9) ** 2 + COLOUR_SD ** 2 + (.03 * np.hypot(y[1], y[2])) ** 2

    def _lik(self, i, hz, delta):
        p = self.points; labs = self.film.lab(np.exp(U), np.clip(p.haze[i] + hz, .02, .98)) + delta
        d2 = ((labs - self.y[i]) ** 2).sum(-1) / self._sd2(self.y[i], self.conf[i])
        return log_t(d2) if self.robust else -.5 * d2

    def fit(self):
        p = self.points; use = np.nonzero(~self.burnt & (self.conf > .3))[0]; self.use = use
        self._fit_damage()
        if len(use) == 0: self.modes = None; return
        # stage 1: lattice over offset, slope and haze with smoothed likelihoods: finds the modes
        smooth = np.exp(-.5 * (np.arange(-30, 31) * DU / .10) ** 2); smooth /= smooth.sum(); q = p.take(use)
        wide = max(self.scales)
        slopes = np.array([-.2, -.1, 0, .1, .2])
        sdo = wide * np.sqrt(self.sd0[0] ** 2 + (np.median(q.Ga) * self.sd0[1]) ** 2 + (np.median(q.Gs) * self.sd0[2]) ** 2)
        reach = max(2.0, 2.5 * sdo); off = np.linspace(-reach, reach, 2 * int(math.ceil(reach / .04)) + 1)
        score = np.zeros((len(off), len(slopes), len(HZ)))
        u0 = np.stack([[q.u(np.array([o, 0, 0, b, MU0[4]]))[0] for b in slopes] for o in off])      # (off, slope, n)
        for h, hz in enumerate(HZ):
            for k, i in enumerate(use):
                l = self._lik(i, hz, 0.0); l = np.log(np.convolve(np.exp(l - l.max()), smooth, "same") + 1e-9) + l.max()
                score[:, :, h] += np.interp(u0[:, :, k], U, l)
        score += -.5 * (off[:, None, None] / sdo) ** 2 - .5 * (slopes[None, :, None] / (wide * self.sd0[3])) ** 2 - .5 * (HZ[None, None, :] / HAZE_SD) ** 2
        flat = score.max(axis=(1, 2)); peaks = [k for k in range(len(off)) if flat[k] >= flat[max(k - 1, 0)] and flat[k] >= flat[min(k + 1, len(off) - 1)] and flat[k] > flat.max() - 9]
        peaks = sorted(peaks, key=lambda k: -flat[k])[:3]; modes = []
        for k in peaks:
            b, h = np.unravel_index(score[k].argmax(), score[k].shape); modes.append(self._gaussian(off[k], slopes[b], HZ[h]))
        modes = [m for i, m in enumerate(modes) if not any(np.abs(m["m"] - o["m"]).max() < .03 for o in modes[:i])]      # peaks that ran into one
        top = max(m["evidence"] for m in modes); w = np.array([math.exp(m["evidence"] - top) for m in modes]); w /= w.sum()
        self.modes = [(wi, m) for wi, m in zip(w, modes) if wi > .02]; s = sum(wi for wi, _ in self.modes); self.modes = [(wi / s, m) for wi, m in self.modes]

    def _gaussian(self, off, slope, hz):
        """Stage 2: sites (mean, variance) for u of each cell inside the mode, then exact Gaussian regression; colour residuals likewise."""
        q = self.points.take(self.use); n = len(q.S); ga, gs = np.median(q.Ga), np.median(q.Gs)
        v = np.array([self.sd0[0] ** 2, (ga * self.sd0[1]) ** 2, (gs * self.sd0[2]) ** 2]); th = MU0.copy()
        th[:3] = off * v / v.sum() / np.array([1, ga, gs]); th[3] = slope; m = q.u(th)[0]; delta = np.zeros((n, 3)); best = None
        Kz = kernel(q.Z, q.Z); V = .15 ** 2
        for it in range(5):
            mean, var = np.zeros(n), np.zeros(n); mis = np.zeros(n)
            for k, i in enumerate(self.use):
                l = self._lik(i, hz, delta[k]); t = l - .5 * (U - m[k]) ** 2 / V; mx = t.max(); w = np.exp(t - mx); s = w.sum(); mu = (w * U).sum() / s; vt = max((w * (U - mu) ** 2).sum() / s, 1e-6)
                prec = max(1 / vt - 1 / V, 1e-2); mean[k] = (mu / vt - m[k] / V) / prec if 1 / vt - 1 / V > 1e-2 else m[k]; var[k] = 1 / prec
                mis[k] = mx + math.log(s * DU / math.sqrt(2 * math.pi * V))        # log of the mean likelihood inside the window
            e, J = q.u(th); best = None
            for sc in self.scales:
                S2 = (self.sd0 * np.array([sc, sc, sc, sc, 1])) ** 2
                for amp in self.amps:
                    K = (J * S2) @ J.T + amp ** 2 * Kz + np.eye(n) * NUGGET ** 2; C = K + np.diag(var); r = mean - (e + J @ (MU0 - th))
                    L = np.linalg.cholesky(C + 1e-9 * np.eye(n)); a = np.linalg.solve(L, r); ev = -.5 * a @ a - np.log(np.diag(L)).sum() + .5 * np.log(var).sum() - .5 * (math.log(sc) / .7) ** 2 - .5 * (math.log(amp / .05) / .8) ** 2
                    if best is None or ev > best[0]: best = (ev, sc, amp, S2, L, r, K)
            ev, sc, amp, S2, L, r, K = best; al = np.linalg.solve(L.T, np.linalg.solve(L, r))
            th_new = MU0 + S2 * (J.T @ al); th_new[1:3] = np.clip(th_new[1:3], -.4, .4); th_new[3] = np.clip(th_new[3], -.45, .45)
            m = e + J @ (MU0 - th) + K @ al; lin, th = th, th_new; J_lin = J
            # colour: haze shift and constant + smooth discrepancy, what the thickness cannot explain
            f0 = self.film.lab(np.exp(m), np.clip(q.haze + hz, .02, .98)); fu = (self.film.lab(np.exp(m + .02), np.clip(q.haze + hz, .02, .98)) - f0) / .02
            fh = (self.film.lab(np.exp(m), np.clip(q.haze + hz + .03, .02, .98)) - f0) / .03; res = self.y[self.use] - f0
            nu = fu / np.maximum(np.linalg.norm(fu, axis=1, keepdims=True), 1e-6); wt = 1 / (1 + (res ** 2).sum(1) / 30)
            pr = lambda x: x - (x * nu).sum(1, keepdims=True) * nu
            sd2 = np.array([self._sd2(self.y[i], self.conf[i]) for i in self.use])
            B, R = pr(fh), pr(res - delta); num = (wt / sd2 * (B * R).sum(1)).sum(); den = (wt / sd2 * (B * B).sum(1)).sum() + 1 / HAZE_SD ** 2
            # R already has the haze shift so far taken out: the prior pulls the total back to zero
            step = (num - hz / HAZE_SD ** 2) / den; hz = float(np.clip(hz + step, -.25, .25))
            Kl = LAB_CONST ** 2 + LAB_AMP ** 2 * Kz; Rl = pr(res - fh * step); Cl = Kl + np.diag(sd2 / np.maximum(wt, .05)); bl = np.linalg.solve(Cl, Rl); delta = Kl @ bl
        Ci = np.linalg.inv(L @ L.T); loo = al / np.sqrt(np.diag(Ci)); calm = math.sqrt((float((np.clip(loo, -3, 3) ** 2).sum()) + 3) / (n + 3))   # leave-one-out residuals set the width of the bands
        return dict(theta=th, calm=calm, hz=hz, hz_sd=1 / math.sqrt(den), lin=lin, scale=sc, amp=amp, S2=S2, L=L, alpha=al, J=J_lin, q=q, m=m, Cl=Cl, bl=bl, delta=delta, sites=(mean, var), evidence=float(ev + mis.sum()))

    # -- predictions
    def predict(self, pts, joint=False, mode=None, nugget=True):
        """Mean and (co)variance of u, haze, colour discrepancy (mean, sd) at settings, for one mode."""
        n = len(pts.S)
        if mode is None:
            u, J = pts.u(MU0); S2 = self.sd0 ** 2; K = (J * S2) @ J.T + self.amps[1] ** 2 * kernel(pts.Z, pts.Z) + np.eye(n) * NUGGET ** 2
            return u, (K if joint else np.diag(K)), pts.haze, np.zeros((n, 3)), np.full(n, math.hypot(LAB_CONST, LAB_AMP)), HAZE_SD
        q = mode["q"]; e, J = pts.u(mode["lin"]); Kx = (J * mode["S2"]) @ mode["J"].T + mode["amp"] ** 2 * kernel(pts.Z, q.Z)
        mean = e + J @ (MU0 - mode["lin"]) + Kx @ mode["alpha"]; A = np.linalg.solve(mode["L"], Kx.T)
        if joint: C = (J * mode["S2"]) @ J.T + mode["amp"] ** 2 * kernel(pts.Z, pts.Z) + np.eye(n) * (NUGGET ** 2 if nugget else 0) - A.T @ A
        else: C = ((J * J) @ mode["S2"]) + mode["amp"] ** 2 + (NUGGET ** 2 if nugget else 0) - (A * A).sum(0)
        C = C * mode["calm"] ** 2 if not joint else (C + C.T) * (.5 * mode["calm"] ** 2); mean = np.clip(mean, .5, 7.6)
        Kl = LAB_CONST ** 2 + LAB_AMP ** 2 * kernel(pts.Z, q.Z); d = Kl @ mode["bl"]; v = LAB_CONST ** 2 + LAB_AMP ** 2 - np.einsum("ij,ji->i", Kl, np.linalg.solve(mode["Cl"], Kl.T))
        return mean, C, np.clip(pts.haze + mode["hz"], .02, .98), d, np.sqrt(np.maximum(v, .01)), mode["hz_sd"]

    def _fit_damage(self):
        g = np.linspace(-1.2, 1.2, 97); l = -.5 * (g / .35) ** 2
        for x, b in zip(self.points.danger, self.burnt): l = l - np.log1p(np.exp(np.clip(-(x + g) / .1 * (1 if b else -1), -50, 50)))
        w = np.exp(l - l.max()); w /= w.sum(); mu = float((w * g).sum()); self.damage = (mu, math.sqrt(float((w * (g - mu) ** 2).sum()) + .05 ** 2))

    def p_burn(self, pts): return ndtr((pts.danger + self.damage[0]) / math.hypot(self.damage[1], .1))


@dataclass
class Goal:
    lab: tuple
    dark: bool = False
    de: float = 2.0

    def miss(self, lab):
        """How far a colour is from the goal: CIEDE2000; for a darkness the L* above the wish, and 99 where it is still coloured."""
        lab = np.asarray(lab, float)
        if self.dark: return np.where(np.hypot(lab[..., 1], lab[..., 2]) > 10, 99.0, np.maximum(0.0, lab[..., 0] - self.lab[0]))
        return delta_e00(lab, np.asarray(self.lab, float))


def worth(goal, miss, tight=.8):
    t = tight * goal.de; return np.where(miss < t, 1.0, .25 / (1 + ((miss - t) / (1.5 * goal.de)) ** 2))


def place(n):
    """Grid positions (mm) and a burning order that keeps successive cells apart."""
    cols = min(n, max(4, int(math.ceil(math.sqrt(n))))); xy = np.array([(6.0 * (i % cols), 5.0 * (i // cols)) for i in range(n)])
    order = [0]; left = set(range(1, n))
    while left:
        k = max(left, key=lambda j: (min(((xy[j] - xy[i]) ** 2).sum() / (1 + .6 * a) for a, i in enumerate(reversed(order[-4:]))), -j)); order.append(k); left.discard(k)
    return xy, np.array(order)


def expected_warmth(pts, xy):
    """Nominal rise (K) at each cell from those burned before it on the sheet; the Learner fits a factor to it."""
    al = MAT.k_bulk / MAT.rc_bulk; out = np.zeros(len(xy)); now = 0.0; hot = []
    for i in range(len(xy)):
        for q, x, t0 in hot:
            t = max(1.5, now + .5 * pts.seconds[i] - t0); r2 = ((x - xy[i]) ** 2).sum() * 1e-6; out[i] += q / (4 * math.pi * al * t * MAT.rc_bulk * PLATE) * math.exp(-r2 / (4 * al * t)) * math.exp(-t / 40)
        now += pts.seconds[i] + .05; hot.append((pts.absorbed[i] * pts.seconds[i], xy[i], now - .5 * pts.seconds[i]))
    return np.minimum(out, 400)


def greedy(value, cost, cap, pay):
    """The cover step alone, for pinning: value (worlds x cells) in 0..1."""
    best = np.zeros(len(value)); chosen = []
    while len(chosen) < cap:
        gain = np.maximum(value - best[:, None], 0).mean(0) - cost; gain[chosen] = -9; k = int(gain.argmax())
        if gain[k] < pay and chosen: break
        chosen.append(k); best = np.maximum(best, value[:, k])
    return chosen
