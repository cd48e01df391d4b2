# What the page of `stasis report` carries: our own style and scripts, the chart library from npm, the typeface as a
# subset from Debian's fonts, and their licences. Sets `page_parts` to the list of files.
set(page_folder ${CMAKE_CURRENT_BINARY_DIR}/generated/page)
set(page_own ${PROJECT_SOURCE_DIR}/src/report/page)
set(charts_folder ${PROJECT_SOURCE_DIR}/node_modules/uplot)
set(inter_folder /usr/share/fonts/opentype/inter)
set(inter_licence /usr/share/doc/fonts-inter/copyright)

if(NOT EXISTS ${charts_folder}/dist/uPlot.iife.min.js)
  message(FATAL_ERROR "The chart library of the page is missing: run `npm ci` in ${PROJECT_SOURCE_DIR} (scripts/demo does it).")
endif()
find_program(HB_SUBSET hb-subset REQUIRED)
find_program(WOFF2_COMPRESS woff2_compress REQUIRED)

# Latin and its marks, Greek, punctuation, arrows, the signs that the page itself uses.
set(page_letters "U+0020-007E,U+00A0-017F,U+0192,U+0218-021B,U+0370-03FF,U+2010-2026,U+2030,U+2032,U+2033,U+2039,U+203A,U+20AC,U+2122,U+2190-2193,U+2212,U+2215,U+221E,U+2248,U+2260,U+2264,U+2265,U+25CF,U+2715")
foreach(weight Regular Bold)
  string(TOLOWER ${weight} name)
  add_custom_command(
    OUTPUT ${page_folder}/${name}.base64
    COMMAND ${CMAKE_COMMAND} -E make_directory ${page_folder}
    COMMAND ${HB_SUBSET} ${inter_folder}/Inter-${weight}.otf --unicodes=${page_letters} --layout-features=kern,tnum
            --output-file=${page_folder}/${name}.otf
    # What it says of a font that it could compress is nothing for whoever builds; where it cannot, its status tells.
    COMMAND sh -c "exec \"$0\" \"$1\" >/dev/null 2>&1" ${WOFF2_COMPRESS} ${page_folder}/${name}.otf
    COMMAND base64 -w 0 ${page_folder}/${name}.woff2 > ${page_folder}/${name}.base64
    VERBATIM)
endforeach()
add_custom_command(
  OUTPUT ${page_folder}/licences.txt
  COMMAND ${CMAKE_COMMAND} -E make_directory ${page_folder}
  COMMAND ${CMAKE_COMMAND} -E cat ${charts_folder}/LICENSE ${inter_licence} > ${page_folder}/licences.txt
  DEPENDS ${charts_folder}/LICENSE
  VERBATIM)

# The page that is played: its own parts, and the heart.
set(hands_own ${PROJECT_SOURCE_DIR}/src/report/hands)
set(page_parts
    ${hands_own}/hands.mustache
    ${hands_own}/hands.css
    ${hands_own}/live.js
    ${hands_own}/live_plan.js
    ${hands_own}/bindings.js
    ${hands_own}/curves.js
    ${hands_own}/numbers.js
    ${hands_own}/writing.js
    ${hands_own}/blind.js
    ${hands_own}/listening.js
    ${hands_own}/hands.js
    ${PROJECT_SOURCE_DIR}/src/embed/stasis.mjs
    ${heart_file}
    ${page_own}/page.mustache
    ${page_own}/page.css
    ${page_own}/read.js
    ${page_own}/scene.js
    ${page_own}/plan.js
    ${page_own}/strip.js
    ${page_own}/charts.js
    ${page_own}/tables.js
    ${page_own}/player.js
    ${charts_folder}/dist/uPlot.iife.min.js
    ${charts_folder}/dist/uPlot.min.css
    ${page_folder}/regular.base64
    ${page_folder}/bold.base64
    ${page_folder}/licences.txt)
