# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
find_package(Qt6 6.4 REQUIRED COMPONENTS Core Gui Widgets Network Sql Svg Concurrent)
find_package(nlohmann_json REQUIRED)
find_package(tl-expected REQUIRED)
find_package(Boost 1.74 REQUIRED)
find_package(fmt REQUIRED)
find_package(Eigen3 REQUIRED NO_MODULE)
find_package(CLI11 REQUIRED)
find_package(spdlog REQUIRED)
find_package(Threads REQUIRED)
find_package(PkgConfig REQUIRED)
# The CMake package of NLopt knows the C interface only.
pkg_check_modules(nlopt REQUIRED IMPORTED_TARGET nlopt_cxx)
pkg_check_modules(polyclipping REQUIRED IMPORTED_TARGET polyclipping)

# OpenCV without its umbrella package: aruco static (the shared one drags Qt 5 in), three modules shared.
find_path(OPENCV_INCLUDE opencv2/core.hpp PATH_SUFFIXES opencv4 REQUIRED)
find_library(OPENCV_ARUCO libopencv_aruco.a REQUIRED)
add_library(finch_opencv INTERFACE)
target_include_directories(finch_opencv SYSTEM INTERFACE ${OPENCV_INCLUDE})
target_link_libraries(finch_opencv INTERFACE ${OPENCV_ARUCO} opencv_calib3d opencv_imgproc opencv_core)
