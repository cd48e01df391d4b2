# What `cmake --install` lands: programs, the library with its header, what finds it, the module, the demo, the guide.
# `cmake --build --target uninstall` takes away what the last install of this build has landed.
# Components are Debian packages: what is run, what is linked at run time, what is built with.
include(GNUInstallDirs)
include(CMakePackageConfigHelpers)
set(stasis_share ${CMAKE_INSTALL_DATADIR}/stasis)
set(stasis_doc ${CMAKE_INSTALL_DATADIR}/doc)

install(TARGETS stasis stasis_search stasis_draw RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR} COMPONENT program)
install(TARGETS stasis_shared EXPORT stasis LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR} COMPONENT library
        NAMELINK_COMPONENT development)
install(TARGETS stasis_static EXPORT stasis ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR} COMPONENT development)
install(DIRECTORY ${PROJECT_SOURCE_DIR}/src/core DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/stasis COMPONENT development
        FILES_MATCHING PATTERN "*.hpp")
install(FILES ${PROJECT_SOURCE_DIR}/src/embed/stasis.h ${PROJECT_SOURCE_DIR}/src/embed/stasis.hpp DESTINATION ${CMAKE_INSTALL_INCLUDEDIR} COMPONENT development)
install(FILES ${PROJECT_SOURCE_DIR}/src/embed/stasis.mjs ${PROJECT_SOURCE_DIR}/src/embed/stasis.d.mts ${wasm_module}
        DESTINATION ${stasis_share} COMPONENT development)
install(DIRECTORY ${PROJECT_SOURCE_DIR}/examples DESTINATION ${stasis_share} COMPONENT development)
install(DIRECTORY ${PROJECT_SOURCE_DIR}/demo DESTINATION ${stasis_share} COMPONENT program)
install(DIRECTORY ${PROJECT_SOURCE_DIR}/docs/ DESTINATION ${stasis_doc}/stasis COMPONENT program
        FILES_MATCHING PATTERN "*.md" PATTERN screenshots EXCLUDE)
install(FILES ${PROJECT_SOURCE_DIR}/LICENSE DESTINATION ${stasis_doc}/stasis COMPONENT program RENAME copyright)
install(FILES ${PROJECT_SOURCE_DIR}/LICENSE DESTINATION ${stasis_doc}/libstasis0 COMPONENT library RENAME copyright)
install(FILES ${PROJECT_SOURCE_DIR}/LICENSE DESTINATION ${stasis_doc}/libstasis-dev COMPONENT development RENAME copyright)

# What the program says of itself: manual pages, the schema of a feel; and completion, for which shells ask it.
install(CODE "
  file(MAKE_DIRECTORY ${PROJECT_BINARY_DIR}/manual)
  execute_process(COMMAND $<TARGET_FILE:stasis> complete 1 stasis \"\" OUTPUT_VARIABLE commands COMMAND_ERROR_IS_FATAL ANY)
  string(REGEX MATCHALL \"[^\\n]+\" commands \"\${commands}\")
  foreach(page stasis \${commands})
    set(name stasis-\${page})
    if(page STREQUAL stasis)
      set(name stasis)
    endif()
    execute_process(COMMAND $<TARGET_FILE:stasis> schema --manual \${page} OUTPUT_FILE ${PROJECT_BINARY_DIR}/manual/\${name}.1
                    COMMAND_ERROR_IS_FATAL ANY)
  endforeach()
  foreach(helper search draw) # started by the program only
    file(WRITE ${PROJECT_BINARY_DIR}/manual/stasis-\${helper}.1 \".so man1/stasis.1\\n\")
  endforeach()
  file(GLOB pages ${PROJECT_BINARY_DIR}/manual/*.1)
  execute_process(COMMAND gzip --best --no-name --force \${pages} COMMAND_ERROR_IS_FATAL ANY)
  execute_process(COMMAND $<TARGET_FILE:stasis> schema OUTPUT_FILE ${PROJECT_BINARY_DIR}/manual/feel.schema.json
                  COMMAND_ERROR_IS_FATAL ANY)
" COMPONENT program)
install(DIRECTORY ${PROJECT_BINARY_DIR}/manual/ DESTINATION ${CMAKE_INSTALL_MANDIR}/man1 COMPONENT program
        FILES_MATCHING PATTERN "*.1.gz")
install(FILES ${PROJECT_BINARY_DIR}/manual/feel.schema.json DESTINATION ${stasis_share} COMPONENT program)
set(completion_folder ${PROJECT_SOURCE_DIR}/cmake/completion)
install(FILES ${completion_folder}/stasis.bash DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions
        RENAME stasis COMPONENT program)
install(FILES ${completion_folder}/stasis.zsh DESTINATION ${CMAKE_INSTALL_DATADIR}/zsh/site-functions RENAME _stasis
        COMPONENT program)
install(FILES ${completion_folder}/stasis.fish DESTINATION ${CMAKE_INSTALL_DATADIR}/fish/vendor_completions.d
        COMPONENT program)

file(CONFIGURE OUTPUT stasis.pc @ONLY CONTENT [[
prefix=@CMAKE_INSTALL_PREFIX@
libdir=${prefix}/@CMAKE_INSTALL_LIBDIR@
includedir=${prefix}/@CMAKE_INSTALL_INCLUDEDIR@

Name: stasis
Description: @PROJECT_DESCRIPTION@
Version: @PROJECT_VERSION@
Cflags: -I${includedir}
Libs: -L${libdir} -lstasis
Libs.private: -lpugixml -lstdc++ -lm
]])
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/stasis.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig COMPONENT development)

# find_package(Stasis): the targets Stasis::stasis, for stasis.h, and Stasis::core, for stasis.hpp.
set(stasis_package ${CMAKE_INSTALL_LIBDIR}/cmake/Stasis)
target_include_directories(stasis_shared INTERFACE $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>)
set_target_properties(stasis_shared PROPERTIES EXPORT_NAME stasis)
target_include_directories(stasis_static INTERFACE $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>
                                                   $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}/stasis>)
install(EXPORT stasis NAMESPACE Stasis:: FILE StasisTargets.cmake DESTINATION ${stasis_package} COMPONENT development)
file(CONFIGURE OUTPUT StasisConfig.cmake @ONLY CONTENT [[
include(CMakeFindDependencyMacro)
find_dependency(pugixml)
include(${CMAKE_CURRENT_LIST_DIR}/StasisTargets.cmake)
]])
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/StasisConfig.cmake DESTINATION ${stasis_package} COMPONENT development)
write_basic_package_version_file(StasisConfigVersion.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/StasisConfigVersion.cmake DESTINATION ${stasis_package} COMPONENT development)

file(CONFIGURE OUTPUT uninstall.cmake @ONLY CONTENT [[
file(STRINGS "@PROJECT_BINARY_DIR@/install_manifest.txt" files)
foreach(file IN LISTS files)
  file(REMOVE "$ENV{DESTDIR}${file}")
endforeach()
list(TRANSFORM files REPLACE "/[^/]*$" "")
list(REMOVE_DUPLICATES files)
list(SORT files ORDER DESCENDING)
foreach(folder IN LISTS files) # folders of our own that are empty now
  if(folder MATCHES "/([Ss]tasis|libstasis0|libstasis-dev)(/|$)")
    file(GLOB left "$ENV{DESTDIR}${folder}/*")
    if(NOT left)
      file(REMOVE_RECURSE "$ENV{DESTDIR}${folder}")
    endif()
  endif()
endforeach()
]])
add_custom_target(uninstall COMMAND ${CMAKE_COMMAND} -P ${CMAKE_CURRENT_BINARY_DIR}/uninstall.cmake)

# Packages: `cpack -G DEB`; a source archive: `cpack --config CPackSourceConfig.cmake`.
set(CPACK_PACKAGE_NAME stasis)
set(CPACK_PACKAGE_VENDOR "The Stasis developers")
set(CPACK_PACKAGE_CONTACT "The Stasis developers <stasis@localhost>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "${PROJECT_DESCRIPTION}")
set(CPACK_GENERATOR DEB)
set(CPACK_COMPONENT_PROGRAM_DESCRIPTION "Describes how camera values change over time in a small TOML file, replays it
against scripted input and recorded motion, draws, measures and compares it,
searches for numbers, and carries it into other programs.")
set(CPACK_COMPONENT_LIBRARY_DESCRIPTION "The heart of Stasis for other programs: reads a feel, takes what hands do,
advances frame by frame and gives values.")
set(CPACK_COMPONENT_DEVELOPMENT_DESCRIPTION "Headers for C and C++, the static archive, the WebAssembly module with its
types, and examples of programs that play a feel by themselves.")
set(CPACK_STRIP_FILES ON)
set(CPACK_COMPONENTS_ALL program library development)
set(CPACK_DEB_COMPONENT_INSTALL ON)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_SECTION graphics)
set(CPACK_DEBIAN_PROGRAM_PACKAGE_NAME stasis)
set(CPACK_DEBIAN_PROGRAM_PACKAGE_DEPENDS "fonts-inter, gnuplot-nox, librsvg2-bin")
set(CPACK_DEBIAN_LIBRARY_PACKAGE_NAME libstasis0)
set(CPACK_DEBIAN_LIBRARY_PACKAGE_SECTION libs)
set(CPACK_DEBIAN_PACKAGE_GENERATE_SHLIBS ON)
file(WRITE ${PROJECT_BINARY_DIR}/debian/triggers "activate-noawait ldconfig\n")
set(CPACK_DEBIAN_LIBRARY_PACKAGE_CONTROL_EXTRA ${PROJECT_BINARY_DIR}/debian/triggers)
set(CPACK_DEBIAN_DEVELOPMENT_PACKAGE_NAME libstasis-dev)
set(CPACK_DEBIAN_DEVELOPMENT_PACKAGE_SECTION libdevel)
set(CPACK_DEBIAN_DEVELOPMENT_PACKAGE_DEPENDS
    "libstasis0 (= ${PROJECT_VERSION}), libboost-dev, libeigen3-dev, libexpected-dev, libpugixml-dev")
# Of the packages only: a source archive has its files at its top.
file(WRITE ${PROJECT_BINARY_DIR}/debian/prefix.cmake
     "if(CPACK_GENERATOR STREQUAL \"DEB\")\n  set(CPACK_PACKAGING_INSTALL_PREFIX /usr)\nendif()\n")
set(CPACK_PROJECT_CONFIG_FILE ${PROJECT_BINARY_DIR}/debian/prefix.cmake)
set(CPACK_SOURCE_GENERATOR TXZ)
set(CPACK_SOURCE_IGNORE_FILES "/build/;/node_modules/;/[.]git/;/stasis-demo/")
include(CPack)
