# The heart for the page: the library of stasis.h for wasm32, by Debian's clang and its C and C++ libraries. Sets
# `heart_file` to the module, packed and as text, which the program carries.
set(STASIS_HEART "" CACHE FILEPATH "A packed WebAssembly module (heart.base64) of another build, instead of making one")
if(STASIS_HEART)
  set(heart_file ${STASIS_HEART})
  add_custom_target(stasis_wasm)
  return()
endif()
find_program(WASM_CXX NAMES clang++-14 clang++ REQUIRED)
find_program(WASM_OPT NAMES wasm-opt REQUIRED)
set(wasm_folder ${CMAKE_CURRENT_BINARY_DIR}/wasm)
set(wasm_headers ${wasm_folder}/include)
# Libraries of headers only are taken from the system; its other headers are not those of wasm32.
file(MAKE_DIRECTORY ${wasm_headers})
foreach(library fmt tl boost toml++)
  file(CREATE_LINK /usr/include/${library} ${wasm_headers}/${library} SYMBOLIC)
endforeach()
set(wasm_flags --target=wasm32-wasi --sysroot=/usr -std=c++20 -DNDEBUG -fno-exceptions -fno-rtti -fvisibility=hidden
               -ffp-contract=off -DFMT_HEADER_ONLY=1 -DFMT_EXCEPTIONS=0 -DBOOST_NO_EXCEPTIONS -include ${PROJECT_SOURCE_DIR}/cmake/wasm_threads.hpp
               -DSTASIS_VERSION="${PROJECT_VERSION}" -I${CMAKE_CURRENT_SOURCE_DIR} -isystem ${EIGEN3_INCLUDE_DIR}
               -isystem /usr/include/eigen3 -idirafter ${wasm_headers})

# What reads files or talks to people is left out.
set(wasm_io column_reader csv_reader feel_document json_writer measures_json problem_words toml_edit toml_hint toml_reader)
list(TRANSFORM wasm_io PREPEND io/)
list(TRANSFORM wasm_io APPEND .cpp)
set(wasm_embed ${embed})
list(REMOVE_ITEM wasm_embed embed/open_file.cpp embed/opened_feel.cpp)

# What runs on every frame is built to run quickly, the rest to be small. Fits, searches and exports have no call in
# stasis.h.
set(stepped ${core})
list(FILTER stepped INCLUDE REGEX "^core/(curve|motion|take|shake|scene|space|lens|view|formula)/")
set(told ${core})
list(FILTER told EXCLUDE REGEX "^core/(curve|motion|take|shake|scene|space|lens|view|formula|match|recorded|search|export)/")
# Of these, what is only read once, changed by an edit, or worked out to be told.
set(seldom "^core/(motion/(equivalent|response|smoothing|spring_design)|curve/(curve_facts|parse_curve)|take/([a-z_]+_changed|same_names|step_play))[.]cpp$")
list(FILTER stepped EXCLUDE REGEX ${seldom})
set(more ${core})
list(FILTER more INCLUDE REGEX ${seldom})
list(APPEND told ${more})

# Sources are compiled some at a time, as if they were one: see Batches.cmake.
set(wasm_objects "")
function(stasis_wasm_batches name optimised size)
  set(objects ${wasm_objects})
  set(left ${ARGN})
  set(number 0)
  while(left)
    list(SUBLIST left 0 ${size} batch)
    list(REMOVE_ITEM left ${batch})
    set(lines "")
    foreach(source IN LISTS batch)
      string(APPEND lines "#include \"${CMAKE_CURRENT_SOURCE_DIR}/${source}\"\n")
    endforeach()
    set(unit ${wasm_folder}/${name}_${number})
    file(CONFIGURE OUTPUT ${unit}.cpp CONTENT "${lines}" @ONLY)
    add_custom_command(
      OUTPUT ${unit}.o
      COMMAND ${WASM_CXX} ${wasm_flags} ${optimised} -MD -MF ${unit}.d -MT ${unit}.o -c ${unit}.cpp -o ${unit}.o
      DEPENDS ${unit}.cpp
      DEPFILE ${unit}.d
      COMMENT "Building for wasm32: ${name}_${number}"
      VERBATIM)
    list(APPEND objects ${unit}.o)
    math(EXPR number "${number} + 1")
  endwhile()
  set(wasm_objects ${objects} PARENT_SCOPE)
endfunction()
stasis_wasm_batches(words -Oz 24 ${words})
stasis_wasm_batches(core -O2 24 ${stepped})
stasis_wasm_batches(told -Oz 24 ${words_that_work} ${told} core/search/feel_words.cpp core/search/other_kind.cpp)
stasis_wasm_batches(io -Oz 24 ${wasm_io})
stasis_wasm_batches(embed -Oz 24 ${wasm_embed})

# The stack stands first: one that is too deep ends in a trap, not in the data. What the module shows is what the header declares.
set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/embed/stasis.h)
file(STRINGS ${CMAKE_CURRENT_SOURCE_DIR}/embed/stasis.h declared REGEX "^STASIS_EXPORT ")
set(wasm_exports "")
foreach(line IN LISTS declared)
  string(REGEX MATCH "stasis_[a-z_]+\\(" function "${line}")
  string(REPLACE "(" "" function "${function}")
  if(NOT function STREQUAL "stasis_open_file")
    list(APPEND wasm_exports -Wl,--export=${function})
  endif()
endforeach()
set(wasm_module ${wasm_folder}/stasis.wasm)
set(heart_file ${wasm_folder}/heart.base64)
add_custom_command(
  OUTPUT ${wasm_module}
  COMMAND ${WASM_CXX} --target=wasm32-wasi --sysroot=/usr -fuse-ld=lld -mexec-model=reactor -O2 -Wl,--strip-all
          -Wl,--gc-sections -Wl,-z,stack-size=1048576 -Wl,--stack-first ${wasm_exports} -Wl,--export=malloc -Wl,--export=free
          ${wasm_objects} -o ${wasm_folder}/linked.wasm
  # A sixth smaller, and no number changes.
  COMMAND ${WASM_OPT} -Oz --enable-bulk-memory --enable-sign-ext --enable-mutable-globals
          --enable-nontrapping-float-to-int ${wasm_folder}/linked.wasm -o ${wasm_module}
  DEPENDS ${wasm_objects} ${CMAKE_CURRENT_SOURCE_DIR}/embed/stasis.h
  COMMENT "Linking stasis.wasm"
  VERBATIM)
add_custom_command(
  OUTPUT ${heart_file}
  COMMAND gzip -9 -n -c ${wasm_module} | base64 -w 0 > ${heart_file}
  DEPENDS ${wasm_module}
  VERBATIM)
add_custom_target(stasis_wasm DEPENDS ${heart_file})
