// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/theme.hpp"

#include <QApplication>
#include <QPalette>
#include <QStyleFactory>

#include "core/base/palette.hpp"
#include "render/fonts.hpp"

static void take_in_signs() {
    Q_INIT_RESOURCE(signs);
}

namespace grayrelic::app {
namespace {

QColor colour(std::string_view hex) {
    return {QLatin1String(hex.data(), static_cast<qsizetype>(hex.size()))};
}

Theme theme_of(const Palette& p, bool dark) {
    return {dark,
            colour(p.bench),
            colour(p.rail),
            colour(p.panel),
            colour(p.sheet),
            colour(p.ink),
            colour(p.ink2),
            colour(p.hairline),
            colour(p.umber),
            colour(p.slate),
            colour(p.verdigris),
            colour(p.brass),
            colour(p.oxide),
            colour(p.selection)};
}

Theme& current() {
    static Theme t = theme_of(casework, false);
    return t;
}

QString style_sheet(const Theme& t) {
    return QStringLiteral(R"(
QToolTip { background:%1; color:%2; border:1px solid %3; padding:3px 6px; }
QLineEdit, QComboBox, QPlainTextEdit { background:%1; color:%2; border:1px solid %3; border-radius:2px; padding:2px 6px; min-height:20px; selection-background-color:%5; selection-color:%2; }
*[compact="true"] { padding:0px 5px; min-height:19px; max-height:19px; }
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus { border:1px solid %4; }
QLineEdit[invalid="true"] { border:1px solid %7; }
QLineEdit:read-only { background:transparent; }
QComboBox::drop-down { border:none; width:18px; }
QComboBox::down-arrow { image:url(:/signs/down-%9.svg); width:10px; height:6px; }
QPushButton::menu-indicator { image:url(:/signs/down-%9.svg); width:10px; height:6px; subcontrol-position:right center; right:8px; }
QPushButton[menu="true"] { padding-right:26px; }
QComboBox QAbstractItemView { background:%1; color:%2; selection-background-color:%5; selection-color:%2; border:1px solid %3; }
QPushButton { background:%1; color:%2; border:1px solid %3; border-radius:3px; padding:4px 12px; min-height:20px; }
QPushButton:hover { background:%5; }
QPushButton:focus { border:1px solid %4; }
QPushButton:disabled { color:%6; }
QPushButton:checked { background:%5; border:1px solid %4; }
QCheckBox::indicator { width:13px; height:13px; background:%1; border:1px solid %6; border-radius:2px; }
QCheckBox::indicator:checked { image:url(:/signs/tick-%9.svg); }
QCheckBox:focus { color:%4; }
QCheckBox:disabled { color:%6; }
QScrollArea, QScrollArea > QWidget > QWidget { background:transparent; border:none; }
QScrollBar:vertical { background:transparent; width:10px; margin:0; }
QScrollBar:horizontal { background:transparent; height:10px; margin:0; }
QScrollBar::handle { background:%3; border-radius:3px; min-height:24px; min-width:24px; }
QScrollBar::add-line, QScrollBar::sub-line { width:0; height:0; }
QHeaderView { background:%1; }
QHeaderView::section { background:%1; color:%6; border:none; border-bottom:1px solid %3; padding:3px 6px; }
QTableView, QListWidget { background:%1; color:%2; border:1px solid %3; selection-background-color:%5; selection-color:%2; }
QTableView::item { padding:0px 5px; }
QTabBar::tab { background:transparent; color:%6; border:none; border-bottom:2px solid transparent; padding:5px 9px; }
QTabBar::tab:selected { color:%2; border-bottom:2px solid %2; }
QTabBar::tab:selected:focus { color:%4; border-bottom:2px solid %4; }
QLabel#problem { background:%1; color:%7; border:1px solid %7; border-radius:2px; }
QMenuBar { background:%8; color:%2; border-bottom:1px solid %3; }
QMenuBar::item { padding:4px 10px; background:transparent; }
QMenuBar::item:selected, QMenu::item:selected { background:%5; color:%2; }
QMenu { background:%1; color:%2; border:1px solid %3; }
QMenu::item { padding:4px 24px 4px 16px; }
QMenu::item:disabled { color:%6; }
QMenu::separator { height:1px; background:%3; margin:4px 8px; }
QProgressBar { background:%1; border:1px solid %3; border-radius:2px; text-align:center; max-height:12px; }
QProgressBar::chunk { background:%4; }
)")
        .arg(t.sheet.name(), t.ink.name(), t.hairline.name(), t.slate.name(), t.selection.name(),
             t.ink2.name(), t.oxide.name(), t.panel.name(),
             t.dark ? QStringLiteral("dark") : QStringLiteral("light"));
}

}  // namespace

QColor Theme::driver(Driver d) const {
    if (d == Driver::relic) return umber;
    if (d == Driver::bridge) return slate;
    return ink2;
}

QColor Theme::verdict(Verdict v) const {
    switch (v) {
        case Verdict::stop: return oxide;
        case Verdict::doubt: return brass;
        case Verdict::holds: return verdigris;
        case Verdict::unknown: return ink2;
    }
    return ink2;
}

QColor Theme::severity(Severity s) const {
    return s == Severity::stop ? oxide : s == Severity::doubt ? brass : ink2;
}

const Theme& theme() {
    return current();
}

void apply_theme(QApplication& application, bool dark) {
    static bool loaded = false;
    if (!loaded) {
        take_in_signs();
        render::load_fonts();
        QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
        loaded = true;
    }
    current() = dark ? theme_of(night_bench, true) : theme_of(casework, false);
    const auto& t = current();
    QPalette p;
    p.setColor(QPalette::Window, t.bench);
    p.setColor(QPalette::WindowText, t.ink);
    p.setColor(QPalette::Base, t.sheet);
    p.setColor(QPalette::AlternateBase, t.panel);
    p.setColor(QPalette::Text, t.ink);
    p.setColor(QPalette::PlaceholderText, t.ink2);
    p.setColor(QPalette::Button, t.panel);
    p.setColor(QPalette::ButtonText, t.ink);
    p.setColor(QPalette::Highlight, t.selection);
    p.setColor(QPalette::HighlightedText, t.ink);
    p.setColor(QPalette::ToolTipBase, t.sheet);
    p.setColor(QPalette::ToolTipText, t.ink);
    p.setColor(QPalette::Link, t.slate);
    p.setColor(QPalette::Disabled, QPalette::Text, t.ink2);
    p.setColor(QPalette::Disabled, QPalette::ButtonText, t.ink2);
    p.setColor(QPalette::Disabled, QPalette::WindowText, t.ink2);
    application.setStyleSheet({});  // else it is laid again for the palette, and for the font
    application.setPalette(p);
    QApplication::setFont(text_font());
    application.setStyleSheet(style_sheet(t));
}

StyleRest::StyleRest() : sheet_(qApp->styleSheet()) {
    qApp->setStyleSheet({});
}
StyleRest::~StyleRest() {
    qApp->setStyleSheet(sheet_);
}

namespace {

QFont font(const char* family, int pixels, bool bold) {
    QFont f{QLatin1String(family)};
    f.setPixelSize(pixels);
    f.setBold(bold);
    // Widths then do not depend on the system's hinting.
    f.setHintingPreference(QFont::PreferNoHinting);
    return f;
}

}  // namespace

QFont text_font(int pixels, bool bold, bool italic) {
    auto f = font("Relic Text", pixels, bold);
    f.setItalic(italic);
    return f;
}

QFont figure_font(int pixels, bool bold) {
    return font("Relic Figures", pixels, bold);
}

}  // namespace grayrelic::app
