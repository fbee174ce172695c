// SPDX-License-Identifier: GPL-3.0-or-later
// Lists and days as parts and orders show and take them.
#pragma once

#include <QObject>
#include <QStringList>

#include <optional>
#include <string>
#include <vector>

#include "app/paint/marks.hpp"
#include "core/base/date.hpp"

namespace grayrelic::app {

inline QString joined(const std::vector<std::string>& list, const char* between) {
    QStringList out;
    for (const auto& s : list) out << to_q(s);
    return out.join(QLatin1String(between));
}

inline std::vector<std::string> words(const QString& text, QChar separator) {
    std::vector<std::string> out;
    for (const auto& w : text.split(separator, Qt::SkipEmptyParts))
        if (!w.trimmed().isEmpty()) out.push_back(w.trimmed().toStdString());
    return out;
}

/// A message when the text is neither a day nor empty.
inline std::optional<QString> take_day(std::string& into, const QString& text) {
    if (!text.isEmpty() && !parse_day(text.toStdString()))
        return QObject::tr("Expected a day such as 2026-11-29.");
    into = text.toStdString();
    return std::nullopt;
}

}  // namespace grayrelic::app
