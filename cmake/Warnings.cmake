# Flags for our own targets only; never exported to users of the library.
add_library(stasis_build_flags INTERFACE)
target_compile_options(
  stasis_build_flags
  INTERFACE -Wall
            -Wextra
            -Wpedantic
            -Wshadow
            -Wconversion
            -Wsign-conversion
            -Wdouble-promotion
            -Wold-style-cast
            # GCC 12 sees uninitialised members in every move of a std::variant of structs; the sanitizer build looks for real ones.
            $<$<CXX_COMPILER_ID:GNU>:-Wno-maybe-uninitialized>
            # One rounding per operation, so that every build writes the same digits.
            -ffp-contract=off
            $<$<BOOL:${STASIS_WERROR}>:-Werror>)
