# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""What the joined reference model answers to one input of its vectors, and random inputs over whole ranges."""
import math

import outcome as oc
from outcome import Evidence, Optics, Run, Settings, Source, Stock, ac, rm

FIELDS = ("findings", "effect", "shares", "film_nm", "s_film", "l_star", "l_spread", "share_away", "depth_um", "depth_if_um", "depth_least_um", "depth_most_um", "s_depth", "first_pass_um",
          "rate_mm3_min", "removal_index", "melt", "floor", "stages", "warp_index", "burn_index", "plate_rise_k", "crater_um", "log_ratio", "warnings", "reason")


def answer(fn, a):
    if fn == "outcome":
        ev = {k: tuple(tuple(p) for p in v) if isinstance(v, list) else v for k, v in a.get("evidence", {}).items()}
        try:
            o = oc.outcome(Source(**a["source"]), Optics(**a["optics"]), Settings(**a["settings"]), Stock(**a["stock"]), Run(**a.get("run", {})), Evidence(**ev))
        except ac.InputError as e:
            return {"error": e.code}
        keys = FIELDS if o["depth_um"] is not None else [k for k in o if k != "told"]
        return {k: o[k] for k in keys}
    laser = lambda d: rm.Laser(d["power"], d["freq"], d["tau"])
    if fn == "crater":
        c = oc.crater(a["metal"], laser(a), a["spot"], a["speed"], a["hatch"], a["finish"], a["t_start_c"], a.get("k_cal", 1.0))
        return {"n_spot": c.n_spot, "fth": c.p.fth, "f1": c.f1, "ln": c.p.ln, "depth": c.p.depth, "dia": c.p.dia, "fresh": c.fresh, "overlap": c.overlap, "over_single": c.over_single,
                "net": oc.net_pass(c, a["tau"], a.get("since", 0.0), 1.0, a.get("zr", 1.0))}
    if fn == "walk":
        st = Settings(100, a["freq"], a["tau"], a["speed"], a["hatch"], a["passes"], focus_mm=a.get("focus_mm", 0.0))
        z = oc.walk(a["metal"], laser(a), rm.Beam(*a["beam"]), st, Run(**a.get("run", {})), a.get("finish", 1.0), 20.0, a.get("k_cal", 1.0), a.get("stop_um", 1e9))
        return {"passes": len(z) - 1, "last": z[-1], "at": [z[min(len(z) - 1, i)] for i in (1, 2, 5, 10, 20, 50)]}
    if fn == "shares":
        f = oc.Facts(**a)
        w = oc.share_away(f)
        s = oc.shares(f, w)
        return {"weights": w, "shares": s, "effect": oc.leading(s), "floor": oc.floor_word(f, w), "look": list(oc.expected_look(s, 30.0, 80.0, w["dark"]))}
    if fn == "coat_outcome":
        return oc.coat_outcome(a["metal"], a["cover"], a.get("cover_um", 0.0), laser(a), rm.Beam(*a["beam"]), Settings(100, a["freq"], a["tau"], a["speed"], a["hatch"], a.get("passes", 1),
                               focus_mm=a.get("focus_mm", 0.0)), a.get("finish", 1.0), a.get("t_start_c", 20.0), a.get("k_coat", 1.0), a.get("s_coat", oc.S_COAT))
    if fn == "black_anodise":
        return oc.black_anodise(laser(a), a["spot"], a["speed"], a["hatch"], a["passes"], a.get("t_start_c", 20.0))
    if fn == "compound_pulse":
        return oc.compound_pulse(a["metal"], a["compound"], a["coats"], laser(a), a["spot"], a["speed"], a["hatch"], a["base"], a.get("finish", 1.0), a.get("t_start_c", 20.0))
    if fn == "findings":
        return oc.findings(Source(**a["source"]), Settings(**a["settings"]))
    if fn in ("film_spread", "depth_spread", "coat_spread"):
        ev = Evidence(**{k: tuple(tuple(p) for p in v) if isinstance(v, list) else v for k, v in a["evidence"].items()})
        return oc.depth_spread(a["metal"], ev, a["at"]) if fn == "depth_spread" else getattr(oc, fn)(ev, a["at"])
    return getattr(oc, fn)(**a)



def log(rng, low, high):
    return math.exp(rng.uniform(math.log(low), math.log(high)))


BENCHES = (({"kind": "variable", "p_nom_w": 38, "e_cap_mj": 1.0, "f_max_khz": 1500, "p_peak_max_kw": 10}, {"f_lens_mm": 210, "beam_d_mm": 7, "m2": 1.5}),
           ({"kind": "fixed", "p_nom_w": 25, "e_cap_mj": 0.83, "f_max_khz": 80, "tau_fixed_ns": 110}, {"f_lens_mm": 163, "beam_d_mm": 6.5, "m2": 1.45}),
           ({"kind": "variable", "p_nom_w": 100, "e_cap_mj": 1.5, "f_max_khz": 2000, "p_peak_max_kw": 20}, {"f_lens_mm": 160, "beam_d_mm": 7, "m2": 1.6}))


def points(rng):
    return [[log(rng, 2, 60), log(rng, 5, 400), log(rng, 20, 600), log(rng, 50, 5000), log(rng, 30, 200)] for _ in range(rng.choice([0, 0, 1, 4]))]


def evidence(rng):
    return {"k_gain": log(rng, .4, 2.5), "k_cal": log(rng, .5, 2), "film_points": points(rng), "film_fit": rng.uniform(0, .4), "depth_points": points(rng),
            "depth_fit": rng.uniform(0, .4), "k_coat": log(rng, .6, 1.6), "coat_points": points(rng), "coat_fit": rng.uniform(0, .4)}


def job(rng, covers=("none", "none", "none", "nickel", "clear")):
    source, optics = rng.choice(BENCHES)
    cover = rng.choice(covers)
    metal = {"anodised": "al", "anodised_natural": "al", "paint": "mild", "powder_coat": "ss304"}.get(cover) or rng.choice(list(ac.MATERIALS))
    return {"source": source, "optics": optics,
            "settings": {"power_pct": log(rng, 2, 100), "freq_khz": log(rng, 20, min(900, source["f_max_khz"])), "pulse_ns": log(rng, 2, 500), "speed_mm_s": log(rng, 20, 6000),
                         "hatch_mm": log(rng, .001, .15), "passes": rng.choice([1, 1, 1, 2, 5, 20, 150]), "focus_mm": rng.choice([0.0, 0.0, rng.uniform(-6, 6)]),
                         "hatch_angle_deg": rng.choice([0.0, 0.0, 37.0])},
            "stock": {"metal": metal, "finish": rng.choice(["mirror", "standard", "brushed", "blasted"]), "thickness_mm": log(rng, .1, 8), "cover": cover,
                      "cover_um": rng.choice([0.0, log(rng, 3, 120)]) if cover not in ("none", "nickel", "clear") else 0.0, "t_start_c": rng.uniform(0, 300), "clamped": rng.random() < .3},
            "run": {"clean_every": rng.choice([0, 0, 7]), "focus_every": rng.choice([0, 9]), "focus_step_mm": .02, "width_mm": log(rng, .3, 20)}, "evidence": evidence(rng)}


def laser(rng):
    return {"power": log(rng, .5, 100), "freq": log(rng, 20, 900), "tau": log(rng, 4, 500), "speed": log(rng, 20, 5000), "hatch": log(rng, .002, .1)}


def walk(rng):
    return {"metal": rng.choice(list(ac.MATERIALS)), **laser(rng), "beam": [163, 6.5, 1.45], "passes": rng.choice([1, 9, 300, 2500]), "finish": rng.choice([.78, 1.0, 1.25]),
            "k_cal": log(rng, .5, 2), "focus_mm": rng.choice([0.0, -1.5, 2.0]), "run": {"clean_every": rng.choice([0, 12]), "focus_every": rng.choice([0, 20]), "focus_step_mm": .03, "width_mm": log(rng, .3, 10)}}


def gas(rng):
    cover = rng.choice(["powder_coat", "paint", "anodised"])
    return {"metal": "al" if cover == "anodised" else "ss304", "cover": cover, "cover_um": rng.choice([0.0, log(rng, 3, 150)]), "power": log(rng, .5, 80), "spot_mm": log(rng, .08, .6),
            "speed": log(rng, 20, 3000), "hatch": log(rng, .01, .3), "passes": rng.choice([1, 2, 5]), "t_start_c": rng.uniform(0, 200)}


RANDOM = {
    "outcome": job,
    "crater": lambda r: {"metal": r.choice(list(ac.MATERIALS)), **laser(r), "spot": log(r, 15, 300), "finish": r.choice([.78, 1.0, 1.08, 1.25]), "t_start_c": r.uniform(0, 400), "k_cal": log(r, .5, 2),
                         "since": log(r, .1, 300), "zr": log(r, .3, 5)},
    "walk": walk,
    "coat_outcome": lambda r: {"metal": "al", "cover": r.choice(["powder_coat", "paint", "anodised"]), **laser(r), "beam": [210, 7, 1.5], "passes": r.choice([1, 3]), "focus_mm": r.uniform(0, 12),
                               "t_start_c": r.uniform(0, 200), "finish": r.choice([.78, 1.25]), "k_coat": log(r, .5, 2), "s_coat": r.uniform(.1, .5)},
    "black_anodise": lambda r: {**laser(r), "spot": log(r, 20, 200), "passes": r.choice([1, 4]), "t_start_c": r.uniform(0, 300)},
    "gas_coat": gas,
    "compound_pulse": lambda r: {"metal": "ss316", "compound": "ceramic", "coats": 2, **laser(r), "spot": log(r, 30, 500), "base": {"bonds": .7, "over-burns": .3}},
    "gain_error": lambda r: {"ln_gains": [r.gauss(.1, .2) for _ in range(r.choice([1, 2, 3, 8, 40]))]},
    "film_spread": lambda r: {"evidence": evidence(r), "at": points_of(r)},
    "depth_spread": lambda r: {"metal": r.choice(list(ac.MATERIALS)), "evidence": evidence(r), "at": points_of(r)},
}


def points_of(rng):
    return [log(rng, 2, 60), log(rng, 5, 400), log(rng, 20, 600), log(rng, 50, 5000), log(rng, 30, 200)]
