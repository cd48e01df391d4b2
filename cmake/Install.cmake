# What `cmake --install` lands: programs, the library with its header, what finds it, the module, the demo, the guide.
# `cmake --build --target uninstall` takes away what the last install of this build has landed.
include(GNUInstallDirs)
include(CMakePackageConfigHelpers)
set(stasis_share ${CMAKE_INSTALL_DATADIR}/stasis)

install(TARGETS stasis stasis_search RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(TARGETS stasis_shared EXPORT stasis LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(FILES ${PROJECT_SOURCE_DIR}/src/embed/stasis.h DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
install(FILES ${PROJECT_SOURCE_DIR}/src/embed/stasis.mjs ${PROJECT_SOURCE_DIR}/src/embed/stasis.d.mts ${wasm_module}
        DESTINATION ${stasis_share})
install(DIRECTORY ${PROJECT_SOURCE_DIR}/demo ${PROJECT_SOURCE_DIR}/examples DESTINATION ${stasis_share})
install(DIRECTORY ${PROJECT_SOURCE_DIR}/docs/ DESTINATION ${CMAKE_INSTALL_DOCDIR} PATTERN "*.md")

file(CONFIGURE OUTPUT stasis.pc @ONLY CONTENT [[
prefix=@CMAKE_INSTALL_PREFIX@
libdir=${prefix}/@CMAKE_INSTALL_LIBDIR@
includedir=${prefix}/@CMAKE_INSTALL_INCLUDEDIR@

Name: stasis
Description: @PROJECT_DESCRIPTION@
Version: @PROJECT_VERSION@
Cflags: -I${includedir}
Libs: -L${libdir} -lstasis
]])
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/stasis.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)

# find_package(Stasis): the target Stasis::stasis.
set(stasis_package ${CMAKE_INSTALL_LIBDIR}/cmake/Stasis)
target_include_directories(stasis_shared INTERFACE $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>
                                                   $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/src/embed>)
set_target_properties(stasis_shared PROPERTIES EXPORT_NAME stasis)
add_library(Stasis::stasis ALIAS stasis_shared)
install(EXPORT stasis NAMESPACE Stasis:: FILE StasisConfig.cmake DESTINATION ${stasis_package})
write_basic_package_version_file(StasisConfigVersion.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/StasisConfigVersion.cmake DESTINATION ${stasis_package})

file(CONFIGURE OUTPUT uninstall.cmake @ONLY CONTENT [[
file(STRINGS "@PROJECT_BINARY_DIR@/install_manifest.txt" files)
foreach(file IN LISTS files)
  file(REMOVE "$ENV{DESTDIR}${file}")
endforeach()
list(TRANSFORM files REPLACE "/[^/]*$" "")
list(REMOVE_DUPLICATES files)
list(SORT files ORDER DESCENDING)
foreach(folder IN LISTS files) # folders of our own that are empty now
  if(folder MATCHES "/([Ss]tasis)(/|$)")
    file(GLOB left "$ENV{DESTDIR}${folder}/*")
    if(NOT left)
      file(REMOVE_RECURSE "$ENV{DESTDIR}${folder}")
    endif()
  endif()
endforeach()
]])
add_custom_target(uninstall COMMAND ${CMAKE_COMMAND} -P ${CMAKE_CURRENT_BINARY_DIR}/uninstall.cmake)
