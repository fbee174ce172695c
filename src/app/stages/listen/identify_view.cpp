// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/identify_view.hpp"

#include <QEvent>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/stages/listen/read_links.hpp"
#include "app/stages/listen/wave_view.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/decode/decoder.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {
namespace {

QString settings_text(const SettingMap& settings) {
    QStringList out;
    for (const auto& [name, value] : settings)
        if (value != "auto") out << QStringLiteral("%1 %2").arg(to_q(name), to_q(value));
    return out.join(QStringLiteral(", "));
}

}  // namespace

IdentifyView::IdentifyView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    sheet_ = new Sheet(tr("What could it be?"));
    whole->addWidget(sheet_);
    verdict_ = new QLabel;
    verdict_->setWordWrap(true);
    verdict_->setFont(text_font(15, true));
    sheet_->body()->addWidget(verdict_);
    table_ = new FactTable;
    table_->set_columns({{tr("Fits"), 56, true},
                         {tr("Family"), 120},
                         {tr("Signals"), 300},
                         {tr("Explains"), 74, true},
                         {tr("Frames"), 130, true}},
                        tr("Families that fit, best first"));
    table_->fit_rows(6);
    sheet_->body()->addWidget(table_, 1);
    about_ = new QLabel;
    about_->setWordWrap(true);
    about_->setAlignment(Qt::AlignTop);
    about_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    about_->setMinimumWidth(10);
    sheet_->body()->addWidget(about_);
    reads_ = secondary_label(tr("The first words as the chosen one would read them"));
    sheet_->body()->addWidget(reads_);
    waves_ = new WaveView;
    waves_->setAccessibleName(tr("Waves as the chosen family reads them"));
    sheet_->body()->addWidget(waves_, 5);
    adopt_ = new QPushButton(tr("Read the capture like this"));
    adopt_->setToolTip(tr("Takes over family, signals and settings; the words appear under the waves"));
    auto* foot = new QHBoxLayout;
    adopt_all_ = new QPushButton;
    adopt_all_->setToolTip(
        tr("The links share no line: the first one's words stand first, the others' below"));
    foot->addWidget(adopt_);
    foot->addWidget(adopt_all_);
    foot->addStretch(1);
    sheet_->body()->addLayout(foot);
    connect(table_, &FactTable::row_chosen, this, &IdentifyView::describe);
    connect(table_, &FactTable::row_opened, this, &IdentifyView::adopt);
    connect(adopt_, &QPushButton::clicked, this, &IdentifyView::adopt);
    connect(adopt_all_, &QPushButton::clicked, this, &IdentifyView::adopt_all);
}

void IdentifyView::show_capture(std::shared_ptr<const CaptureAnalysis> capture) {
    capture_ = std::move(capture);
    const auto now = capture_ ? capture_->capture : nullptr;
    if (now == identified_ && now != nullptr) return;
    identified_ = now;
    working_.cancel();
    fill({});
    if (now == nullptr) {
        verdict_->setText(capture_ && !capture_->under_way.empty() ? tr("The capture is being read …")
                                                                   : tr("Bring a capture first."));
        return;
    }
    if (capture_->identified) return fill(*capture_->identified);  // found in the background
    verdict_->setText(tr("Trying every family …"));
    IdentifyOptions options;
    options.sample_period = capture_->sample_period;
    working_.ask(
        [whole = capture_->capture, options](Progress& progress) {
            auto list = identify(*whole, options, progress);
            return list ? std::move(*list) : std::vector<Candidate>{};
        },
        [this](const std::vector<Candidate>& list) { fill(list); });
}

void IdentifyView::fill(const std::vector<Candidate>& list) {
    candidates_ = list;
    std::vector<TableRow> rows;
    for (const auto& c : list) {
        const auto ink = c.score < least_fit ? theme().ink2 : QColor();
        TableRow row{
            {QString::number(c.score, 'f', 2), ink},
            {to_q(c.kind), ink},
            {roles_text(c.roles), ink},
            {to_q(print_share(c.explains)), ink},
            {c.errors == 0 ? to_q(print_count(c.frames))
                           : tr("%1, %2 wrong").arg(to_q(print_count(c.frames)), to_q(print_count(c.errors))),
             ink}};
        row[0].sort = c.score;
        row[3].sort = c.explains;
        row[4].sort = static_cast<double>(c.frames);
        rows.push_back(std::move(row));
    }
    table_->set_rows(std::move(rows));
    const auto together = links();
    adopt_all_->setVisible(together.size() > 1);
    adopt_all_->setText(together.size() == 2 ? tr("Read both links")
                                             : tr("Read all %1 links").arg(together.size()));
    if (list.empty() || list.front().score < least_fit)
        verdict_->setText(list.empty()
                              ? tr("None fits: no family explains these signals.")
                              : tr("None fits. The nearest is shown, but explains too little to believe."));
    else
        verdict_->setText(together.size() < 2
                              ? tr("It reads as %1: %2.").arg(to_q(list.front().kind), to_q(list.front().why))
                              : tr("%1 links: %2.").arg(together.size()).arg(names_of(together)));
    if (!list.empty()) table_->choose(0);
    describe(list.empty() ? -1 : 0);
}

std::vector<std::size_t> IdentifyView::links() const {
    const auto sets = links_of(candidates_);
    return sets.empty() ? std::vector<std::size_t>() : sets.front();
}

QString IdentifyView::names_of(const std::vector<std::size_t>& list) const {
    QStringList names;
    for (const auto i : list)
        names << tr("%1 (%2)").arg(to_q(candidates_[i].kind), roles_text(candidates_[i].roles));
    return names.join(tr(", and "));
}

void IdentifyView::describe(int row) {
    adopt_->setEnabled(row >= 0 && row < static_cast<int>(candidates_.size()) &&
                       candidates_[static_cast<std::size_t>(row)].score >= least_fit);
    if (row < 0 || row >= static_cast<int>(candidates_.size())) {
        about_->clear();
        show_words(nullptr);
        return;
    }
    try_words(candidates_[static_cast<std::size_t>(row)]);
    const auto& c = candidates_[static_cast<std::size_t>(row)];
    QStringList lines;
    if (row > 0 || c.score < least_fit) lines << to_q(c.why) + QLatin1Char('.');
    if (const auto s = settings_text(c.settings); !s.isEmpty()) lines << tr("Settings: %1.").arg(s);
    for (const auto& u : c.not_told_apart) {
        QStringList values;
        for (const auto& v : u.values) values << to_q(v);
        lines << tr("Not settled: %1 is %2; %3 would tell.")
                     .arg(to_q(u.what), values.join(tr(" or ")), to_q(u.would_tell));
    }
    for (const auto& a : c.alternatives) lines << tr("Not settled: %1").arg(to_q(a));
    about_->setText(lines.join(QLatin1Char('\n')));
}

/// The capture's words by this candidate, over its waves: what the verdict means.
void IdentifyView::try_words(const Candidate& c) {
    show_words(nullptr);
    if (!capture_ || !capture_->capture) return;
    trying_.ask(
        [capture = capture_->capture, c](Progress& progress) -> std::shared_ptr<const Decoding> {
            const auto decoder = find_decoder(c.kind);
            if (!decoder) return nullptr;
            auto words = (*decoder)->decode(*capture, c.roles, c.settings, progress);
            return words ? std::make_shared<const Decoding>(std::move(*words)) : nullptr;
        },
        [this, c](const std::shared_ptr<const Decoding>& words) {
            if (!capture_ || !words) return;
            auto read = std::make_shared<CaptureAnalysis>(*capture_);
            read->ref.decode = {c.kind, c.roles, c.settings, {}};
            read->decoding = words;
            read->characters.reset();
            read->also.clear();
            read->ref.also.clear();
            read->under_way.clear();
            show_words(read);
        });
}

void IdentifyView::show_words(const std::shared_ptr<const CaptureAnalysis>& read) {
    if (!read) trying_.cancel();
    reads_->setVisible(read != nullptr);
    waves_->setVisible(read != nullptr);
    waves_->show_capture(read, document_.dossier());
    if (!read || read->decoding->frames.empty()) return;
    // A few words, from the first on.
    constexpr std::size_t few = 4;
    const auto& f = read->decoding->frames;
    const Span seen{f.front().start, f[std::min(few, f.size()) - 1].end};
    const Time room = seen.length() / 16;
    waves_->set_window({seen.from - room, seen.to + room});
}

void IdentifyView::adopt() {
    const int row = std::max(0, table_->chosen());
    if (!capture_ || row >= static_cast<int>(candidates_.size())) return;
    const auto id = capture_->ref.id;
    const auto chosen = candidates_[static_cast<std::size_t>(row)];
    Q_EMIT adopted();
    read_links(document_, id, {chosen});
}

void IdentifyView::adopt_all() {
    if (!capture_) return;
    std::vector<Candidate> together;
    for (const auto i : links()) together.push_back(candidates_[i]);
    const auto id = capture_->ref.id;
    Q_EMIT adopted();
    read_links(document_, id, together);
}

void IdentifyView::changeEvent(QEvent* event) {
    // Cells keep the colours they were made with.
    if (event->type() == QEvent::PaletteChange && !candidates_.empty()) {
        const int row = table_->chosen();
        fill(std::vector<Candidate>(candidates_));
        if (row >= 0) table_->selectRow(row);
    }
    QWidget::changeEvent(event);
}

}  // namespace grayrelic::app
