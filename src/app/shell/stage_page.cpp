// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/stage_page.hpp"

#include <QAction>
#include <QEvent>

#include "app/paint/marks.hpp"
#include "render/picture.hpp"

namespace grayrelic::app {

StagePage::StagePage(Stage stage, Document& document, unsigned rests, QWidget* parent)
    : QWidget(parent), document_(document), stage_(stage), rests_(rests) {
    connect(&document_, &Document::changed, this, &StagePage::look);
    connect(&document_, &Document::analysed, this, &StagePage::look);
    connect(&document_, &Document::refused, this, &StagePage::look_anew);
    connect(&document_, &Document::unstorable, this, &StagePage::look_anew);
}

/// Beside the sections and analyses: which dossier it is, and where it lies.
Versions StagePage::versions(unsigned rests) const {
    auto g = versions_of(document_.dossier(), document_.analysis(), rests);
    g.push_back(document_.identity());
    return g;
}

void StagePage::look() {
    if (!isVisible()) return;
    auto page = versions(rests_);
    auto view = versions(view_rests());
    const bool other_page = page != page_shown_;
    const bool other_view = view != view_shown_;
    if (!other_page && !other_view) return;
    page_shown_ = std::move(page);
    view_shown_ = std::move(view);
    ++refreshes_;
    if (other_page) refresh_page();
    // What the page found may have brought another view forward.
    if (other_view) refresh_view();
    Q_EMIT header_changed();
}

void StagePage::look_anew() {
    page_shown_.clear();
    view_shown_.clear();
    look();
}

void StagePage::view_shown() {
    view_shown_.clear();
    look();
}

void StagePage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    look();
}

/// Cells and signs keep the colours that they were made with.
void StagePage::changeEvent(QEvent* event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) look_anew();
}

QPushButton* StagePage::make_example_button() {
    auto* button = new QPushButton(QStringLiteral("Open the shipped example"));
    connect(button, &QPushButton::clicked, this, &StagePage::example_wanted);
    return button;
}

Claim StagePage::claim(const QFileInfo& file) const {
    for (const auto& kind : file_kinds())
        if (kind.endings.contains(file.suffix().toLower())) return Claim::by_ending;
    return Claim::none;
}

void StagePage::take(const QString&) {}

void StagePage::describe_keys(ActionRegistry& actions) const {
    actions.collect(*this);
    for (const auto* w : findChildren<QWidget*>()) actions.collect(*w);
    note_mouse(actions);
}

FileKind picture_files() {
    FileKind kind{QStringLiteral("Pictures"), {}};
    for (const char* e : render::picture_endings) kind.endings << QLatin1String(e);
    return kind;
}

FileKind table_files() {
    return {QStringLiteral("Tables"), {QStringLiteral("csv"), QStringLiteral("tsv"), QStringLiteral("txt")}};
}

QString dialog_filter(const FileKind& kind) {
    QStringList patterns;
    for (const auto& e : kind.endings) patterns << QStringLiteral("*.") + e;
    return QStringLiteral("%1 (%2)").arg(kind.title, patterns.join(QLatin1Char(' ')));
}

}  // namespace grayrelic::app
