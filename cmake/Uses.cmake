# Which folders a folder may include from. tests/house/check holds every #include of the tree against it (ctest
# house_uses). A name stands for that folder under src/ and all below it.
#
#   gray_relic_uses(FOLDER USE...)     uses that must each be there
#   gray_relic_may_use(FOLDER USE...)  uses that need not be
function(gray_relic_uses folder)
    string(REPLACE ";" " " uses "${ARGN}")
    set_property(GLOBAL APPEND PROPERTY GRAY_RELIC_USES "must ${folder} ${uses}")
endfunction()
function(gray_relic_may_use folder)
    string(REPLACE ";" " " uses "${ARGN}")
    set_property(GLOBAL APPEND PROPERTY GRAY_RELIC_USES "may ${folder} ${uses}")
endfunction()
function(gray_relic_write_uses)
    get_property(lines GLOBAL PROPERTY GRAY_RELIC_USES)
    string(REPLACE ";" "\n" lines "${lines}")
    file(WRITE ${PROJECT_BINARY_DIR}/uses.txt "${lines}\n")
endfunction()
