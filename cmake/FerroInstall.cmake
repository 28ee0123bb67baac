include(GNUInstallDirs)
install(TARGETS ferrograph ferrograph-cli ferrograph-standin)
install(TARGETS ferro-pixels DESTINATION lib/ferrograph)
install(DIRECTORY ${CMAKE_SOURCE_DIR}/src/shop/starter ${CMAKE_SOURCE_DIR}/src/program/dialects
        DESTINATION ${CMAKE_INSTALL_DATADIR}/ferrograph)
install(FILES packaging/org.ferrograph.Ferrograph.desktop DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES packaging/org.ferrograph.Ferrograph.svg DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps)
install(FILES packaging/org.ferrograph.Ferrograph.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/mime/packages)
