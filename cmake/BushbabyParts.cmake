# What every part (core, data, lab, records, views) is built and installed with.

# The step's bits must be the same everywhere: no fused multiply-add, no reordering. It is for our
# own sources; what a user's program makes of the headers' inline code decides no bit of a step.
include(CheckCXXCompilerFlag)
include(CheckCXXSourceCompiles)
set(bushbaby_arithmetic "")
check_cxx_compiler_flag(-ffp-contract=off bushbaby_has_ffp_contract)
if(bushbaby_has_ffp_contract)
  list(APPEND bushbaby_arithmetic -ffp-contract=off)
endif()
# The old floating-point unit of 32-bit x86 keeps more bits than a double has.
check_cxx_source_compiles("#include <cfloat>
#if FLT_EVAL_METHOD == 2
#error
#endif
int main() {}" bushbaby_rounds_to_double)
check_cxx_compiler_flag(-fno-semantic-interposition bushbaby_has_interposition)
if(NOT bushbaby_rounds_to_double)
  list(APPEND bushbaby_arithmetic -msse2 -mfpmath=sse)
endif()

# Warnings and sanitizers are ours, not the user's: never exported. In a batch the names of one file
# stand behind those of another, and hide nothing.
add_library(bushbaby_warnings INTERFACE)
target_compile_options(bushbaby_warnings INTERFACE
                       -Wall -Wextra -Wpedantic $<$<NOT:$<BOOL:${BUSHBABY_BATCHES}>>:-Wshadow>
                       -Wconversion -Wsign-conversion
                       -Wnon-virtual-dtor -Wold-style-cast -Wdouble-promotion
                       $<$<BOOL:${BUSHBABY_WERROR}>:-Werror>)
if(BUSHBABY_SANITIZE)
  target_compile_options(bushbaby_warnings INTERFACE -fsanitize=${BUSHBABY_SANITIZE}
                         -fno-sanitize-recover=all -fno-omit-frame-pointer)
  target_link_options(bushbaby_warnings INTERFACE -fsanitize=${BUSHBABY_SANITIZE})
endif()

set(bushbaby_parts "" CACHE INTERNAL "")

# Whole builds are quicker when headers are read once for several files; who works on one file has
# it alone.
function(bushbaby_in_batches target)
  if(BUSHBABY_BATCHES)
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE 10)
  endif()
endfunction()

# bushbaby_part(NAME PUBLIC libraries PRIVATE libraries): the library bushbaby::NAME of src/NAME.
function(bushbaby_part name)
  cmake_parse_arguments(part "" "" "PUBLIC;PRIVATE" ${ARGN})
  file(GLOB_RECURSE sources CONFIGURE_DEPENDS ${PROJECT_SOURCE_DIR}/src/${name}/*.cpp)
  file(GLOB_RECURSE headers CONFIGURE_DEPENDS ${PROJECT_SOURCE_DIR}/include/bushbaby/${name}/*.h)
  add_library(bushbaby_${name} ${sources} ${headers})
  add_library(bushbaby::${name} ALIAS bushbaby_${name})
  target_include_directories(bushbaby_${name}
    PUBLIC $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/include>
           $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>
    PRIVATE ${PROJECT_SOURCE_DIR}/include ${PROJECT_SOURCE_DIR}/src)
  target_compile_features(bushbaby_${name} PUBLIC cxx_std_17)
  target_compile_options(bushbaby_${name} PRIVATE ${bushbaby_arithmetic})
  target_link_libraries(bushbaby_${name}
    PUBLIC ${part_PUBLIC}
    PRIVATE ${part_PRIVATE} $<BUILD_INTERFACE:bushbaby_warnings>)
  set_target_properties(bushbaby_${name} PROPERTIES EXPORT_NAME ${name}
                        OUTPUT_NAME bushbaby_${name} POSITION_INDEPENDENT_CODE ON)
  bushbaby_in_batches(bushbaby_${name})
  set(bushbaby_parts ${bushbaby_parts} ${name} CACHE INTERNAL "")
endfunction()

# Compiles all files of a target as one, so that a compiler may inline across them; it changes no
# bit of a step.
function(bushbaby_as_one_unit target)
  if(BUSHBABY_ONE_UNIT)
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE 0)
    # Otherwise code made for shared libraries, as all of this is, calls what it might inline.
    target_compile_options(${target} PRIVATE
                           $<$<BOOL:${bushbaby_has_interposition}>:-fno-semantic-interposition>)
  endif()
endfunction()

function(bushbaby_install)
  include(CMakePackageConfigHelpers)
  set(package_dir ${CMAKE_INSTALL_LIBDIR}/cmake/Bushbaby)
  install(DIRECTORY ${PROJECT_SOURCE_DIR}/include/bushbaby
          DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
  # A file of targets for each part, so that who takes one needs what that one needs.
  foreach(part IN LISTS bushbaby_parts)
    install(TARGETS bushbaby_${part} EXPORT Bushbaby-${part})
    install(EXPORT Bushbaby-${part} NAMESPACE bushbaby:: DESTINATION ${package_dir})
  endforeach()
  configure_package_config_file(${PROJECT_SOURCE_DIR}/cmake/BushbabyConfig.cmake.in
    ${PROJECT_BINARY_DIR}/BushbabyConfig.cmake INSTALL_DESTINATION ${package_dir})
  write_basic_package_version_file(${PROJECT_BINARY_DIR}/BushbabyConfigVersion.cmake
    COMPATIBILITY SameMinorVersion)
  install(FILES ${PROJECT_BINARY_DIR}/BushbabyConfig.cmake
                ${PROJECT_BINARY_DIR}/BushbabyConfigVersion.cmake
                ${PROJECT_SOURCE_DIR}/cmake/FindCsv.cmake DESTINATION ${package_dir})
endfunction()
