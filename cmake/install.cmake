# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
include(GNUInstallDirs)
install(TARGETS gilded-finch gilded-finch-cli finch-standin finch-demo-history RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(DIRECTORY data/ DESTINATION ${CMAKE_INSTALL_DATADIR}/gilded-finch/data)
install(FILES resources/desktop/local.gilded_finch.GildedFinch.desktop DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES resources/desktop/local.gilded_finch.GildedFinch.metainfo.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/metainfo)
install(FILES resources/icons/finch.svg DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps RENAME gilded-finch.svg)
install(FILES LICENSE README.md CHANGELOG.md LICENSES/OFL-1.1.txt LICENSES/ISC.txt DESTINATION ${CMAKE_INSTALL_DOCDIR})

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME gilded-finch)
set(CPACK_PACKAGE_CONTACT "The Gilded Finch developers <noreply@localhost>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "Bench companion for fibre laser marking")
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION science)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
# Plugins that no binary links: the database driver.
set(CPACK_DEBIAN_PACKAGE_DEPENDS libqt6sql6-sqlite)
include(CPack)
