# A build folder has what ships with Noctis where an installation has it, seen from each program: beside the folder
# that the program is in.
set(NOCTIS_DATA_FOLDER ${CMAKE_INSTALL_DATADIR}/noctis)
set(NOCTIS_PROGRAM_FOLDER ${CMAKE_INSTALL_LIBDIR}/noctis)

foreach(root ${PROJECT_BINARY_DIR} ${PROJECT_BINARY_DIR}/src)
    file(MAKE_DIRECTORY ${root}/${NOCTIS_DATA_FOLDER} ${root}/${NOCTIS_PROGRAM_FOLDER})
    file(CREATE_LINK ${PROJECT_SOURCE_DIR}/src/app/resources/fonts ${root}/${NOCTIS_DATA_FOLDER}/fonts SYMBOLIC)
    file(CREATE_LINK ${NOCTIS_DEMO_FOLDER} ${root}/${NOCTIS_DATA_FOLDER}/saltern_quay SYMBOLIC)
    file(CREATE_LINK ${PROJECT_BINARY_DIR}/src/trial/noctis-trial ${root}/${NOCTIS_PROGRAM_FOLDER}/noctis-trial
         SYMBOLIC)
endforeach()
