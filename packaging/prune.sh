#!/bin/sh
# Remove from a folder of installed libraries what the program never loads: a window of widgets
# needs a third of Qt, ONNX Runtime comes twice, and libraries come with tests of their own.
set -eu
cd "$1/PySide6"
rm -rf Qt/qml Qt/translations Qt/metatypes Qt/libexec assistant linguist lupdate lrelease \
    qmlformat qmlls qmllint svgtoqml designer include typesystems QtOpenGL.* QtOpenGLW* \
    QtQml* QtQuick* QtDesigner* Qt/lib/*Quick* Qt/lib/*Qml* Qt/lib/*Designer* Qt/lib/*Labs* \
    Qt/lib/*WaylandCompositor*
cd ..
rm -f onnxruntime/capi/libonnxruntime.so*
find . -type d -name tests -prune -exec rm -rf {} +
