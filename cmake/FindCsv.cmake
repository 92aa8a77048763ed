# The CSV library (Debian's libcsv-dev), which brings no CMake files of its own: Csv::csv.
find_path(Csv_INCLUDE_DIR csv.h)
find_library(Csv_LIBRARY csv)
mark_as_advanced(Csv_INCLUDE_DIR Csv_LIBRARY)
include(FindPackageHandleStandardArgs)
find_package_handle_standard_args(Csv REQUIRED_VARS Csv_LIBRARY Csv_INCLUDE_DIR)
if(Csv_FOUND AND NOT TARGET Csv::csv)
  add_library(Csv::csv UNKNOWN IMPORTED)
  set_target_properties(Csv::csv PROPERTIES IMPORTED_LOCATION "${Csv_LIBRARY}"
                        INTERFACE_INCLUDE_DIRECTORIES "${Csv_INCLUDE_DIR}")
endif()
