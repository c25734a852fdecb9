// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/markers.h"

#include "vision/fiducials.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <opencv2/aruco.hpp>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>

namespace finch {
namespace {

constexpr int saturated = 252;
constexpr double sharp_enough_mm = 0.45; // edges smeared wider than this mix a cell with what lies beside it
constexpr double flat_enough_mm = 0.6;

const cv::Ptr<cv::aruco::Dictionary>& dictionary() {
    static const cv::Ptr<cv::aruco::Dictionary> d = cv::aruco::getPredefinedDictionary(cv::aruco::DICT_5X5_1000);
    return d;
}

struct Exposure {
    double bright_share = 0, lit_share = 0; ///< burned out; brighter than deep shade
};

Exposure exposure(const cv::Mat& grey) {
    return {static_cast<double>(cv::countNonZero(grey >= saturated)) / static_cast<double>(grey.total()),
            static_cast<double>(cv::countNonZero(grey > 70)) / static_cast<double>(grey.total())};
}

/// Steepest edges of the whole picture against its contrast: near 0 when everything is smeared.
double crispness(const cv::Mat& grey) {
    cv::Mat dx, dy, size;
    cv::Sobel(grey, dx, CV_32F, 1, 0);
    cv::Sobel(grey, dy, CV_32F, 0, 1);
    cv::magnitude(dx, dy, size);
    std::vector<float> values(size.begin<float>(), size.end<float>());
    const auto top = values.begin() + static_cast<long>(static_cast<double>(values.size()) * 0.999);
    std::nth_element(values.begin(), top, values.end());
    cv::Scalar mean, spread;
    cv::meanStdDev(grey, mean, spread);
    return *top / 8.0 / std::max(4.0, 4 * spread[0]);
}

Error smeared() {
    return {"photo.blurred",
            "The edges of the fiducials are smeared.",
            "Rest the camera, focus on the metal and take it again.",
            {}};
}

Error nothing_found(const cv::Mat& grey) {
    const Exposure e = exposure(grey);
    if (e.bright_share > 0.25)
        return {"photo.over_exposed",
                fmt::format("{:.0f} % of the picture is burned out white.", 100 * e.bright_share),
                "Take it again with less light or a shorter exposure.",
                {}};
    if (e.lit_share < 0.02)
        return {"photo.under_exposed", "The picture is nearly black.", "Take it again with more light.", {}};
    if (crispness(grey) < 0.08)
        return {"photo.blurred",
                "The picture is too blurred to find the fiducials.",
                "Rest the camera, focus on the metal and take it again.",
                {}};
    return {"photo.no_sheet",
            "No fiducial of a proof sheet is in this picture.",
            "Show the whole sheet with its four square marks, not mirrored; or put its corners by hand.",
            {}};
}

double side_px(const std::array<cv::Point2f, 4>& c) {
    double sum = 0;
    for (std::size_t i = 0; i < 4; ++i)
        sum += cv::norm(c[i] - c[(i + 1) % 4]);
    return sum / 4;
}

/// Markers of one copy of the picture; `factor` from the copy to the picture.
void detect(const cv::Mat& copy, double factor, std::vector<FoundMarker>& into) {
    static const auto parameters = [] {
        auto p = cv::aruco::DetectorParameters::create();
        p->cornerRefinementMethod = cv::aruco::CORNER_REFINE_NONE; // at full size, later
        p->adaptiveThreshWinSizeMax = 53;
        p->adaptiveThreshWinSizeStep = 10;
        p->minMarkerPerimeterRate = 0.02;
        // Thin and rough marks: more pixels to a module, and its rim left out.
        p->perspectiveRemovePixelPerCell = 8;
        p->perspectiveRemoveIgnoredMarginPerCell = 0.25;
        return p;
    }();
    std::vector<int> ids;
    std::vector<std::vector<cv::Point2f>> corners;
    cv::aruco::detectMarkers(copy, dictionary(), corners, ids, parameters);
    for (std::size_t i = 0; i < ids.size(); ++i) {
        FoundMarker m{ids[i], {}};
        for (std::size_t c = 0; c < 4; ++c)
            m.corners[c] =
                (corners[i][c] + cv::Point2f(0.5f, 0.5f)) * static_cast<float>(factor) - cv::Point2f(0.5f, 0.5f);
        const bool known = std::any_of(into.begin(), into.end(), [&](const FoundMarker& o) {
            return o.id == m.id && cv::norm(o.corners[0] - m.corners[0]) < 0.5 * side_px(m.corners);
        });
        if (!known)
            into.push_back(m);
    }
}

std::size_t corners_of(const std::vector<FoundMarker>& found, int code) {
    std::array<bool, 4> seen{};
    for (const FoundMarker& m : found)
        if (m.id / 4 == code)
            seen[static_cast<std::size_t>(m.id % 4)] = true;
    return static_cast<std::size_t>(std::count(seen.begin(), seen.end(), true));
}

/// Share of the step from dark to bright within one pixel, at the edges of a marker; 0 where it cannot be told.
double step_share(const cv::Mat& grey, const FoundMarker& m) {
    const cv::Rect box = cv::boundingRect(std::vector<cv::Point2f>(m.corners.begin(), m.corners.end())) &
                         cv::Rect(0, 0, grey.cols, grey.rows);
    if (box.area() < 64)
        return 0;
    const cv::Mat part = grey(box);
    double low = 0, high = 0;
    cv::minMaxLoc(part, &low, &high);
    cv::Mat dx, dy, size;
    cv::Sobel(part, dx, CV_32F, 1, 0);
    cv::Sobel(part, dy, CV_32F, 0, 1);
    cv::magnitude(dx, dy, size);
    std::vector<float> values(size.begin<float>(), size.end<float>());
    const auto top = values.begin() + static_cast<long>(static_cast<double>(values.size()) * 0.97);
    std::nth_element(values.begin(), top, values.end());
    return *top / 4 / std::max(1.0, high - low);
}

std::array<cv::Point2f, 4> on_sheet(const RectMm& box) {
    const auto x = static_cast<float>(box.x), y = static_cast<float>(box.y), w = static_cast<float>(box.w);
    return {cv::Point2f(x, y), {x + w, y}, {x + w, y + w}, {x, y + w}};
}

struct Fit {
    cv::Mat to_sheet;
    double off_mm = 1e9;
    std::vector<const FoundMarker*> used;
};

Fit fit(const std::vector<const FoundMarker*>& set, const SheetLayout& at) {
    std::vector<cv::Point2f> photo, sheet;
    for (const FoundMarker* m : set) {
        const auto known = on_sheet(at.fiducials[static_cast<std::size_t>(m->id % 4)].box);
        photo.insert(photo.end(), m->corners.begin(), m->corners.end());
        sheet.insert(sheet.end(), known.begin(), known.end());
    }
    Fit out{cv::findHomography(photo, sheet, 0), 0, set};
    if (out.to_sheet.empty())
        return {{}, 1e9, set};
    std::vector<cv::Point2f> back;
    cv::perspectiveTransform(photo, back, out.to_sheet);
    for (std::size_t i = 0; i < back.size(); ++i)
        out.off_mm = std::max(out.off_mm, cv::norm(back[i] - sheet[i]));
    return out;
}

/// Of all ways to take one marker for each corner, four of them if they lie in one plane, else three: the flattest.
Fit flattest(const std::array<std::vector<const FoundMarker*>, 4>& choices, const SheetLayout& at) {
    Fit four, three;
    std::vector<const FoundMarker*> set;
    const auto pick = [&](auto&& self, std::size_t corner) -> void {
        if (corner == 4) {
            if (set.size() < 3)
                return;
            Fit f = fit(set, at);
            Fit& best = set.size() == 4 ? four : three;
            if (f.off_mm < best.off_mm)
                best = f;
            return;
        }
        for (const FoundMarker* m : choices[corner]) {
            set.push_back(m);
            self(self, corner + 1);
            set.pop_back();
        }
        self(self, corner + 1); // without this corner
    };
    pick(pick, 0);
    return four.off_mm <= flat_enough_mm || (three.off_mm > 0.35 && four.off_mm < 1e9) ? four : three;
}

} // namespace

std::array<bool, 49> fiducial_modules(int id) {
    cv::Mat picture;
    cv::aruco::drawMarker(dictionary(), id, 7, picture, 1);
    std::array<bool, 49> out{};
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = picture.at<std::uint8_t>(static_cast<int>(i) / 7, static_cast<int>(i) % 7) < 128;
    return out;
}

std::array<std::array<bool, 49>, 4> fiducial_modules(const SheetLayout& layout) {
    std::array<std::array<bool, 49>, 4> out{};
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = fiducial_modules(layout.fiducials[i].id);
    return out;
}

std::vector<FoundMarker> find_markers(const cv::Mat& grey, int code) {
    std::vector<FoundMarker> found;
    const double longest = std::max(grey.cols, grey.rows);
    for (const double want : {1500.0, 2400.0, 900.0}) {
        if (want > longest * 1.2 && want > 1600)
            continue;
        const double factor = std::max(1.0, longest / want);
        cv::Mat copy = grey;
        if (factor > 1)
            cv::resize(grey, copy, {}, 1 / factor, 1 / factor, cv::INTER_AREA);
        detect(copy, factor, found);
        if (corners_of(found, code) == 4)
            break;
        cv::Mat negative;
        cv::bitwise_not(copy, negative);
        detect(negative, factor, found);
        if (corners_of(found, code) == 4)
            break;
    }
    const cv::Rect inside(0, 0, grey.cols, grey.rows);
    for (FoundMarker& m : found) {
        // Within a third of a module of where the copy saw them.
        const int reach = std::clamp(static_cast<int>(side_px(m.corners) / 7 / 3), 2, 12);
        std::vector<cv::Point2f> c(m.corners.begin(), m.corners.end());
        const cv::Rect box = cv::boundingRect(c) & inside;
        if (box.width < 12 || box.height < 12)
            continue;
        cv::cornerSubPix(grey, c, {reach, reach}, {-1, -1},
                         {cv::TermCriteria::COUNT + cv::TermCriteria::EPS, 30, 0.02});
        std::copy(c.begin(), c.end(), m.corners.begin());
    }
    return found;
}

Expected<FoundSheet> find_sheet(const cv::Mat& grey, const SheetLayout& at, int sheet_number,
                                const std::optional<std::array<PointMm, 4>>& by_hand) {
    FoundSheet out;
    std::vector<FoundMarker> markers;
    if (by_hand) {
        std::vector<cv::Point2f> photo, sheet;
        for (std::size_t i = 0; i < 4; ++i) {
            const PointMm& p = (*by_hand)[i];
            photo.emplace_back(static_cast<float>(p.x), static_cast<float>(p.y));
            sheet.push_back(on_sheet(at.fiducials[i].box)[i]); // the outer corner of each
        }
        out.to_sheet = cv::findHomography(photo, sheet, 0);
        const double across = cv::norm(photo[0] - photo[1]) + cv::norm(photo[1] - photo[2]) +
                              cv::norm(photo[2] - photo[3]) + cv::norm(photo[3] - photo[0]);
        const double known = cv::norm(sheet[0] - sheet[1]) + cv::norm(sheet[1] - sheet[2]) +
                             cv::norm(sheet[2] - sheet[3]) + cv::norm(sheet[3] - sheet[0]);
        out.pixels_per_mm = across / known;
        if (out.to_sheet.empty() || !cv::isContourConvex(photo))
            return failure("photo.corners", "The corners put by hand do not make a sheet.",
                           "Put them on the outer corners of the four square marks, from the upper left one round.");
    } else {
        const int code = sheet_code(sheet_number);
        markers = find_markers(grey, code);
        if (markers.empty())
            return tl::unexpected(nothing_found(grey));
        std::map<int, int> votes;
        for (const FoundMarker& m : markers)
            ++votes[m.id / 4];
        const auto most =
            std::max_element(votes.begin(), votes.end(), [](auto& a, auto& b) { return a.second < b.second; });
        if (!votes.contains(code) || (most->first != code && most->second > votes[code] && votes[code] < 3))
            return failure(
                "photo.wrong_sheet",
                fmt::format("This is a sheet with code {}, not sheet {} (code {}).", most->first, sheet_number, code),
                "Choose the photograph of this sheet, or open the other sheet.");
        std::array<std::vector<const FoundMarker*>, 4> choices;
        for (const FoundMarker& m : markers)
            if (m.id / 4 == code && choices[static_cast<std::size_t>(m.id % 4)].size() < 3)
                choices[static_cast<std::size_t>(m.id % 4)].push_back(&m);
        std::vector<std::string> missing;
        for (std::size_t i = 0; i < 4; ++i)
            if (choices[i].empty())
                missing.emplace_back(at.fiducials[i].corner);
        double share = 0;
        int told = 0;
        for (const FoundMarker& m : markers)
            if (m.id / 4 == code) {
                share += step_share(grey, m) * side_px(m.corners) / at.fiducials[0].box.w; // steps per mm
                ++told;
            }
        out.edge_mm = told > 0 && share > 0 ? told / share : 9;
        if (missing.size() > 1)
            return out.edge_mm > sharp_enough_mm
                       ? Expected<FoundSheet>(tl::unexpected(smeared()))
                       : failure("photo.missing_fiducials",
                                 fmt::format("The {} fiducials cannot be seen.", fmt::join(missing, " and ")),
                                 "Show at least three square marks without glare on them, or put the corners by hand.");
        const Fit best = flattest(choices, at);
        if (!(best.off_mm <= flat_enough_mm))
            return failure("photo.bent",
                           fmt::format("The fiducials do not lie in one plane: {:.1f} mm off.", best.off_mm),
                           "Lay the sheet flat, or photograph it from farther away.");
        out.to_sheet = best.to_sheet;
        out.off_mm = best.off_mm;
        out.markers = static_cast<int>(best.used.size());
        for (const FoundMarker* m : best.used)
            out.pixels_per_mm += side_px(m->corners) / at.fiducials[0].box.w / static_cast<double>(best.used.size());
    }
    if (out.pixels_per_mm < 5)
        return failure("photo.too_small",
                       fmt::format("A millimetre of the sheet covers only {:.1f} pixels.", out.pixels_per_mm),
                       "Go nearer, so that the sheet fills the picture.");
    if (out.edge_mm > sharp_enough_mm)
        return tl::unexpected(smeared());
    return out;
}

} // namespace finch
