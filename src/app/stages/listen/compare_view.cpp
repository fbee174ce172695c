// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/compare_view.hpp"

#include <QEvent>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/choice_box.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/decode/decoder.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

CompareView::CompareView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    auto* sheet = new Sheet(tr("Original against replica"));
    auto* head = new QHBoxLayout;
    const auto box = [&](const QString& label, const QString& name) {
        auto* l = new QLabel(label);
        auto* b = new ChoiceBox(name);
        b->setMinimumWidth(110);
        head->addWidget(l);
        head->addWidget(b, 1);
        connect(b, &QComboBox::activated, this, &CompareView::compare);
        return b;
    };
    original_ = box(tr("Original"), tr("The original's recording"));
    replica_ = box(tr("Replica"), tr("The replica's recording"));
    align_ = box(tr("Align at"), tr("The edge that is one moment in both"));
    tolerance_ = new Field;
    tolerance_->setPlaceholderText(tr("within: auto"));
    tolerance_->setAccessibleName(tr("Edges further apart are not the same"));
    tolerance_->setToolTip(
        tr("Edges further apart are not the same, such as 2us; empty: half the usual distance of the "
           "original's edges"));
    tolerance_->setMaximumWidth(110);
    head->addWidget(tolerance_);
    sheet->body()->addLayout(head);
    verdict_ = new QLabel;
    verdict_->setFont(text_font(13, true));
    verdict_->setWordWrap(true);
    sheet->body()->addWidget(verdict_);
    table_ = new FactTable;
    table_->set_columns({{tr("Signal"), 90},
                         {tr("Edges"), 112, true},
                         {tr("Missing"), 64, true},
                         {tr("Extra"), 54, true},
                         {tr("Later by"), 180, true},
                         {tr("Parts at"), 130, true}},
                        tr("Differences signal by signal"));
    table_->fit_rows(8);
    sheet->body()->addWidget(table_, 1);
    whole->addWidget(sheet);
    auto* drawn = new Sheet(tr("Where they part"));
    plot_ = new PairPlot;
    drawn->body()->addWidget(plot_, 1);
    whole->addWidget(drawn, 1);
    tolerance_->commit = [this](const QString& text) -> std::optional<QString> {
        std::optional<Time> t;
        if (const auto plain = text.trimmed(); !plain.isEmpty()) {
            const auto parsed = parse_time(plain.toStdString());
            if (!parsed || *parsed < Time{}) return tr("Expected a time such as 2us, or nothing.");
            t = *parsed;
        }
        tolerance_time_ = t;
        compare();
        return std::nullopt;
    };
    connect(table_, &FactTable::row_chosen, this, [this](int row) {
        if (answer_ && row >= 0 && row < static_cast<int>(answer_->signals.size()))
            if (const auto& first = answer_->signals[static_cast<std::size_t>(row)].first) show_at(*first);
    });
}

const CaptureAnalysis* CompareView::chosen(const QComboBox& box) const {
    const auto* c = document_.analysis().find_capture(box.currentData().toString().toStdString());
    return c != nullptr && c->capture ? c : nullptr;
}

void CompareView::refresh() {
    const auto& captures = *document_.dossier().captures;
    int n = 0;
    for (auto* b : {original_, replica_}) {
        const QSignalBlocker block(b);
        const auto before = b->currentData();
        b->clear();
        for (const auto& c : captures) b->addItem(to_q(c.title), to_q(c.id));
        const int at = b->findData(before);
        b->setCurrentIndex(at >= 0 ? at : std::min(n, b->count() - 1));
        ++n;
    }
    compare();
}

void CompareView::compare() {
    const auto *a = chosen(*original_), *b = chosen(*replica_);
    {
        const QSignalBlocker block(align_);
        const auto before = align_->currentData();
        align_->clear();
        align_->addItem(tr("the first edge"), QStringLiteral("first"));
        align_->addItem(tr("the clock as it is"), QString());
        if (a != nullptr)
            for (const auto& s : a->capture->signals)
                if (s.digital && align_->count() < 100)
                    for (const auto d : {Direction::rise, Direction::fall})
                        align_->addItem(to_q(show_edge({short_name(s.name), d})),
                                        to_q(print_edge({s.name, d})));
        if (const int at = align_->findData(before); at >= 0) align_->setCurrentIndex(at);
    }
    if (a == nullptr || b == nullptr) {
        comparing_.cancel();
        asked_.reset();
        fill(nullptr);
        verdict_->setText(tr("Bring two recordings: the original's, and one of what is to replace it."));
        return;
    }
    CompareRequest request;
    request.signals = same_names(*a->named, *b->named);
    const auto where = align_->currentData().toString();
    if (where == QLatin1String("first")) {
        request.align = first_edge_of(*a->capture, request.signals);
    } else if (!where.isEmpty() && where != QLatin1String("first")) {
        if (const auto edge = parse_edge(where.toStdString())) request.align = *edge;
    }
    request.tolerance = tolerance_time_;
    if (request.signals.empty()) {
        comparing_.cancel();
        asked_.reset();
        fill(nullptr);
        verdict_->setText(tr("The two have no signal of the same name."));
        return;
    }
    const Question question{a->capture, b->capture, a->decoding, b->decoding, where, tolerance_time_};
    if (question == asked_) return;
    asked_ = question;
    verdict_->setText(tr("Comparing …"));
    comparing_.ask(
        [x = a->capture, y = b->capture, request, words = words_of(*a, *b)](Progress& progress) {
            auto c = compare_captures(*x, *y, request, progress);
            if (!c) return Answer();
            auto both = std::make_shared<Compared>();
            static_cast<CaptureComparison&>(*both) = std::move(*c);
            if (words.first && words.second)
                both->words = compare_frames(*words.first, *words.second, both->shift, request.tolerance);
            return Answer(both);
        },
        [this](const Answer& c) {
            fill(c);
            if (!c) verdict_->setText(tr("They can't be laid over each other at that edge."));
        });
}

std::pair<std::shared_ptr<const Decoding>, std::shared_ptr<const Decoding>> CompareView::words_of(
    const CaptureAnalysis& a, const CaptureAnalysis& b) {
    const bool alike = a.decoding && b.decoding && a.decoding->kind == b.decoding->kind;
    return alike ? std::pair(a.decoding, b.decoding)
                 : std::pair<std::shared_ptr<const Decoding>, std::shared_ptr<const Decoding>>();
}

void CompareView::fill(const Answer& answer) {
    answer_ = answer;
    if (!answer) {
        table_->set_rows({});
        plot_->show_rows({}, {}, {});
        return;
    }
    std::vector<TableRow> rows;
    for (const auto& s : answer->signals) {
        const auto t = [](double v) { return to_q(print_number(v, Unit::second)); };
        const auto ink = s.first ? theme().oxide : QColor();
        TableRow row{
            {to_q(short_name(s.name)), ink},
            {tr("%1 : %2").arg(s.edges_a).arg(s.edges_b), ink},
            {to_q(print_count(s.missing)), ink},
            {to_q(print_count(s.extra)), ink},
            {s.delay.n == 0 ? tr("none matched") : tr("%1 to %2").arg(t(s.delay.min), t(s.delay.max)), ink},
            {s.first ? to_q(print(*s.first, 8)) : tr("nowhere"), ink}};
        row[0].key = row[0].text;
        row[1].sort = static_cast<double>(s.edges_a);
        row[2].sort = static_cast<double>(s.missing);
        row[3].sort = static_cast<double>(s.extra);
        row[4].sort = s.delay.n == 0 ? 0.0 : s.delay.max;
        row[5].sort = s.first ? s.first->seconds() : 1e12;
        rows.push_back(std::move(row));
    }
    table_->set_rows(std::move(rows));
    const auto differ = std::count_if(answer->signals.begin(), answer->signals.end(),
                                      [](const auto& s) { return s.first.has_value(); });
    verdict_->setText(
        answer->same
            ? tr("The same: every edge of %1 has its counterpart.")
                  .arg(to_q(plural(static_cast<long long>(answer->signals.size()), "signal", "signals")))
            : tr("They part for the first time at %1; %2 of %3 differ.")
                  .arg(to_q(print(*answer->first_difference, 8)))
                  .arg(differ)
                  .arg(to_q(plural(static_cast<long long>(answer->signals.size()), "signal", "signals"))));
    if (const auto& w = answer->words) {
        auto text = w->all_same() ? tr(" All of %1 say the same.").arg(to_q(plural(w->same, "word", "words")))
                                  : tr(" Words: %1 the same, %2 differ, %3 missing, %4 extra.")
                                        .arg(w->same)
                                        .arg(w->differ)
                                        .arg(w->missing)
                                        .arg(w->extra);
        if (!w->differences.empty()) {
            const auto& d = w->differences.front();
            text += tr(" First at %1: %2, replica %3.")
                        .arg(to_q(print(d.at, 7)), d.original.empty() ? tr("none") : to_q(d.original),
                             d.replica.empty() ? tr("none") : to_q(d.replica));
        }
        verdict_->setText(verdict_->text() + text);
    }
    const auto* a = chosen(*original_);
    show_at(answer->first_difference ? *answer->first_difference
            : a != nullptr           ? a->capture->extent.from
                                     : Time{});
}

void CompareView::show_at(Time at) {
    const auto *a = chosen(*original_), *b = chosen(*replica_);
    if (!answer_ || a == nullptr || b == nullptr) return;
    std::vector<PairPlot::Row> rows;
    // As near as the quickest of the signals that differ.
    Time usual = Time::max();
    for (const auto& s : answer_->signals) {
        const auto x = a->capture->find(s.name), y = b->capture->find(s.other);
        if (!x || !y || rows.size() >= 8) continue;
        rows.push_back({to_q(short_name(s.name)), (*x)->digital, (*y)->digital});
        if (s.first || answer_->same) usual = std::min(usual, std::max(s.tolerance, Time::ns(10)));
    }
    if (usual == Time::max()) usual = Time::us(1);
    const auto of_a = a->capture->extent, of_b = b->capture->extent;
    plot_->show_rows(
        std::move(rows), answer_->shift,
        {std::min(of_a.from, of_b.from + answer_->shift), std::max(of_a.to, of_b.to + answer_->shift)});
    plot_->show_moment(at, usual * 24);
}

void CompareView::changeEvent(QEvent* event) {
    // Cells keep the colours they were made with.
    if (event->type() == QEvent::PaletteChange && answer_) {
        fill(Answer(answer_));
    }
    QWidget::changeEvent(event);
}

}  // namespace grayrelic::app
