# PROGRAM may have what runs it before it: "qemu-aarch64|hashes".
string(REPLACE "|" ";" PROGRAM "${PROGRAM}")
execute_process(COMMAND ${PROGRAM} ${DEMO} ${FROZEN} OUTPUT_VARIABLE actual RESULT_VARIABLE code)
string(REPLACE "\r\n" "\n" actual "${actual}")
file(READ ${EXPECTED} expected)
if(NOT code EQUAL 0 OR NOT actual STREQUAL expected)
  message(FATAL_ERROR "exit code ${code}; trace hashes differ.\nexpected:\n${expected}\nactual:\n"
                      "${actual}\nIf a change to the arithmetic is meant, put the actual ones into "
                      "${EXPECTED} and a line into CHANGELOG.md.")
endif()
