// What Debian's library of built-in functions for WebAssembly asks for, and nothing there has.
extern "C" {
void* __stack_chk_guard = nullptr;             // NOLINT: its name is given
void __stack_chk_fail() { __builtin_trap(); }  // NOLINT: its name is given
}
