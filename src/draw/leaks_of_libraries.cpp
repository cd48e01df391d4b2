// Of builds with sanitizers: what the library of fonts keeps until the process ends is not ours to give back.
extern "C" const char* __lsan_default_suppressions();
extern "C" const char* __lsan_default_suppressions() { return "leak:libfontconfig\n"; }
