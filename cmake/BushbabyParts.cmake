# What every part (core, data, lab, records, views) is built and installed with.

# The step's bits must be the same everywhere: no fused multiply-add, no reordering. Public, because
# a private flag would not reach the same inline code in a user's program.
add_library(bushbaby_arithmetic INTERFACE)
add_library(bushbaby::arithmetic ALIAS bushbaby_arithmetic)
target_compile_options(bushbaby_arithmetic INTERFACE
                       $<$<CXX_COMPILER_ID:GNU,Clang>:-ffp-contract=off>)
target_compile_features(bushbaby_arithmetic INTERFACE cxx_std_17)
set_target_properties(bushbaby_arithmetic PROPERTIES EXPORT_NAME arithmetic)

# Warnings and sanitizers are ours, not the user's: never exported.
add_library(bushbaby_warnings INTERFACE)
target_compile_options(bushbaby_warnings INTERFACE
                       -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wsign-conversion
                       -Wnon-virtual-dtor -Wold-style-cast -Wdouble-promotion
                       $<$<BOOL:${BUSHBABY_WERROR}>:-Werror>)
if(BUSHBABY_SANITIZE)
  target_compile_options(bushbaby_warnings INTERFACE -fsanitize=${BUSHBABY_SANITIZE}
                         -fno-sanitize-recover=all -fno-omit-frame-pointer)
  target_link_options(bushbaby_warnings INTERFACE -fsanitize=${BUSHBABY_SANITIZE})
endif()

set(bushbaby_parts "" CACHE INTERNAL "")

# bushbaby_part(NAME PUBLIC libraries PRIVATE libraries): the library bushbaby::NAME of src/NAME.
function(bushbaby_part name)
  cmake_parse_arguments(part "" "" "PUBLIC;PRIVATE" ${ARGN})
  file(GLOB sources CONFIGURE_DEPENDS ${PROJECT_SOURCE_DIR}/src/${name}/*.cpp)
  file(GLOB headers CONFIGURE_DEPENDS ${PROJECT_SOURCE_DIR}/include/bushbaby/${name}/*.h)
  add_library(bushbaby_${name} ${sources} ${headers})
  add_library(bushbaby::${name} ALIAS bushbaby_${name})
  target_include_directories(bushbaby_${name}
    PUBLIC $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/include>
           $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>
    PRIVATE ${PROJECT_SOURCE_DIR}/include)
  target_link_libraries(bushbaby_${name}
    PUBLIC bushbaby_arithmetic ${part_PUBLIC}
    PRIVATE ${part_PRIVATE} $<BUILD_INTERFACE:bushbaby_warnings>)
  set_target_properties(bushbaby_${name} PROPERTIES EXPORT_NAME ${name}
                        OUTPUT_NAME bushbaby_${name} POSITION_INDEPENDENT_CODE ON)
  set(bushbaby_parts ${bushbaby_parts} bushbaby_${name} CACHE INTERNAL "")
endfunction()

function(bushbaby_install)
  include(CMakePackageConfigHelpers)
  set(package_dir ${CMAKE_INSTALL_LIBDIR}/cmake/Bushbaby)
  install(TARGETS ${bushbaby_parts} bushbaby_arithmetic EXPORT BushbabyTargets)
  install(DIRECTORY ${PROJECT_SOURCE_DIR}/include/ DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
  install(EXPORT BushbabyTargets NAMESPACE bushbaby:: DESTINATION ${package_dir})
  configure_package_config_file(${PROJECT_SOURCE_DIR}/cmake/BushbabyConfig.cmake.in
    ${PROJECT_BINARY_DIR}/BushbabyConfig.cmake INSTALL_DESTINATION ${package_dir})
  write_basic_package_version_file(${PROJECT_BINARY_DIR}/BushbabyConfigVersion.cmake
    COMPATIBILITY SameMinorVersion)
  install(FILES ${PROJECT_BINARY_DIR}/BushbabyConfig.cmake
                ${PROJECT_BINARY_DIR}/BushbabyConfigVersion.cmake DESTINATION ${package_dir})
endfunction()
