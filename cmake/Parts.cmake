# Makes OUT, the functions of code/parts.hpp, from the files of PARTS.
set(text "// Made by cmake/Parts.cmake.\n#include \"code/parts.hpp\"\n\nnamespace stasis::code {\n\n")
foreach(part ${PARTS})
  get_filename_component(name ${part} NAME_WE)
  file(READ ${part} body)
  string(APPEND text "std::string_view ${name}_part() noexcept {\n  return R\"part(${body})part\";\n}\n\n")
endforeach()
string(APPEND text "} // namespace stasis::code\n")
file(WRITE ${OUT} "${text}")
