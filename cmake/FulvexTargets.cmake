# fulvex_headers(NAME HEADERS … LINKS …): headers that many sources share, compiled once; see fulvex_library.
function(fulvex_headers name)
  cmake_parse_arguments(ARG "" "" "HEADERS;LINKS" ${ARGN})
  file(WRITE ${CMAKE_BINARY_DIR}/headers/${name}.cpp.new "// Shared headers are compiled with this.\n")
  file(COPY_FILE ${CMAKE_BINARY_DIR}/headers/${name}.cpp.new ${CMAKE_BINARY_DIR}/headers/${name}.cpp ONLY_IF_DIFFERENT)
  add_library(${name} OBJECT ${CMAKE_BINARY_DIR}/headers/${name}.cpp)
  target_link_libraries(${name} PRIVATE ${ARG_LINKS})
  target_precompile_headers(${name} PRIVATE ${ARG_HEADERS})
endfunction()

# fulvex_library(NAME LINKS a b ... HEADERS h): one static library per source folder, made of every .cpp in it, with the
# shared headers h, fulvex_plain_headers where none are named.
# Its own folder is the only include path it exports, so a header is found exactly where the library that owns
# it is linked: an include from a floor above does not compile.
function(fulvex_library name)
  cmake_parse_arguments(ARG "MOC" "HEADERS" "LINKS" ${ARGN})
  file(GLOB sources CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/*.cpp ${CMAKE_CURRENT_SOURCE_DIR}/*.h)
  add_library(${name} STATIC ${sources})
  foreach(source ${sources}) # a kernel is compiled once for each vector target, by including itself
    file(STRINGS ${source} kernel REGEX "foreach_target")
    if(kernel)
      set_source_files_properties(${source} PROPERTIES SKIP_UNITY_BUILD_INCLUSION ON)
    endif()
  endforeach()
  if(NOT ARG_HEADERS)
    set(ARG_HEADERS fulvex_plain_headers)
  endif()
  target_precompile_headers(${name} REUSE_FROM ${ARG_HEADERS})
  target_include_directories(${name} PUBLIC ${CMAKE_CURRENT_SOURCE_DIR})
  target_link_libraries(${name} PUBLIC ${ARG_LINKS})
  if(ARG_MOC)
    set_target_properties(${name} PROPERTIES AUTOMOC ON)
  endif()
endfunction()
