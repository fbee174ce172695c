// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/fonts.hpp"

#include <QFontDatabase>
#include <QString>

// A static library's resources are linked in by the function that loads them, outside of any namespace.
static void take_in_fonts() {
    Q_INIT_RESOURCE(fonts);
}

namespace grayrelic::render {

void load_fonts() {
    take_in_fonts();
    for (const char* name : {"RelicText-Regular", "RelicText-Bold", "RelicText-Italic",
                             "RelicFigures-Regular", "RelicFigures-Bold", "RelicFigures-Italic"})
        QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/%1.otf").arg(QLatin1String(name)));
}

}  // namespace grayrelic::render
