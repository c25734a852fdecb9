// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/stock.h"
#include "formats/folders.h"

#include <array>
#include <map>
#include <optional>
#include <string>

namespace finch::standin {

/// What the stand-in's oxide is like. Growth is given at 1500 K.
struct OwnOxide {
    double activation_kj_mol = 220;
    double growth_nm2_us = 80, ceiling_nm2_us = 3000;
    double index_red = 2.3, index_blue = 2.5;     ///< refractive index at 700 and 400 nm
    double absorbs_red = 0.2, absorbs_blue = 0.4; ///< extinction there
    double spread = 0.09;                         ///< of the thickness within a spot's width, share
};

/// What a metal is to the stand-in: its own table, apart from what the program believes.
struct OwnMetal {
    double absorptance = 0.35;
    double conductivity_w_mk = 15, conductivity_rise = 0.8; ///< at 300 K; share per 1000 K more
    double capacity_mj_m3k = 4.5;
    double melting_k = 1700, fusion_rise_k = 400, boiling_k = 3100, vapour_gj_m3 = 49;
    std::array<double, 3> n{}, k{}; ///< of the bare metal at 400, 550 and 700 nm
    std::optional<OwnOxide> oxide;
    double cut_mm3_j = 0.001;    ///< removed per energy of the beam at the best fluence
    double cut_best_j_cm2 = 15;  ///< peak fluence of the beam that cuts best, pulses of 100 ns
    double cut_dark_j_mm2 = 1.5; ///< energy per area from which a floor is dark
};

/// What a coat is to the stand-in.
struct OwnCoat {
    double usual_um = 50;
    double pulse_j_mm3 = 8, gas_j_mm3 = 6; ///< energy that takes a volume of it away
    double bleach_j_mm2 = 0;               ///< energy per area that bleaches it; 0 = does not
    std::array<double, 3> look{};          ///< reflectance at 400, 550 and 700 nm
};

struct OwnCompound {
    double fuse_c = 500, burn_c = 1200;
    double reflects = 0.04;
};

/// The tables of data/standin/nature.json.
struct Nature {
    std::map<std::string, OwnMetal, std::less<>> metals;
    std::map<Coating, OwnCoat> coats;
    std::map<std::string, OwnCompound, std::less<>> compounds;
};

/// Errors: file.*, document.*, with the field.
[[nodiscard]] Expected<Nature> load_nature(const DataFolders& folders);

} // namespace finch::standin
