// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/tap_view.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/shell/item_edits.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/tap_figure.hpp"
#include "render/pdf.hpp"

namespace grayrelic::app {
namespace {

QScrollArea* scrolling(QWidget* inside) {
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    area->setWidget(inside);
    return area;
}

QLabel* plain_label() {
    auto* l = new QLabel;
    l->setFont(text_font(12));
    l->setWordWrap(true);
    l->setTextFormat(Qt::PlainText);
    l->setTextInteractionFlags(Qt::TextSelectableByMouse);
    l->setAlignment(Qt::AlignTop);
    return l;
}

QString seconds_text(double s) {
    return s >= 120 ? TapView::tr("%1 min").arg(s / 60, 0, 'f', 0) : to_q(print_number(s, Unit::second, 2));
}

}  // namespace

TapView::TapView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    row->addWidget(make_drawing(), 1);
    row->addWidget(make_wanted(), 1);
    ask_card = [this] {
        return QFileDialog::getSaveFileName(this, tr("Card of the taps"), QStringLiteral("taps.pdf"),
                                            tr("PDF (*.pdf);;SVG (*.svg)"));
    };
}

QWidget* TapView::make_drawing() {
    drawing_sheet_ = new Sheet(tr("Cable with taps"));
    analyser_ = new ChoiceBox(tr("Analyser"), tr("What the lines are recorded with"));
    for (const auto& a : document_.data().analysers.analysers) analyser_->addItem(to_q(a.name), to_q(a.id));
    connect(analyser_, &QComboBox::activated, this, [this] {
        change(tr("another analyser"),
               [&](TapPlan& t) { t.analyser = analyser_->currentData().toString().toStdString(); });
    });
    card_ = new QPushButton(tr("Card…"));
    card_->setToolTip(tr("The cable, the list and the steps, to print"));
    connect(card_, &QPushButton::clicked, this, [this] {
        if (const auto path = ask_card(); !path.isEmpty()) (void)write_card_to(path);
    });
    card_->setProperty("compact", true);
    drawing_sheet_->add_to_title(card_);
    drawing_sheet_->body()->addWidget(analyser_);
    drawing_ = new DrawingView(tr("Pass-through cable with taps"));
    drawing_->redraw = [this](double width) { return draw_taps(study_, width, chosen_); };
    drawing_->least_width = 400;
    connect(drawing_, &DrawingView::picked, this, [this](const QString& id) { choose(id.toStdString()); });
    drawing_sheet_->body()->addWidget(scrolling(drawing_), 3);
    lines_ = new FactTable;
    lines_->set_columns({{tr("Pin"), 36},
                         {tr("Line"), 74},
                         {tr("How"), 118},
                         {tr("Levels"), 104, true},
                         {tr("Channel"), 62, true}},
                        tr("Lines and how each is recorded"));
    connect(lines_, &FactTable::row_chosen, this,
            [this](int row) { choose("pin " + lines_->key(row).toString().toStdString()); });
    drawing_sheet_->body()->addWidget(lines_, 2);
    line_ = plain_label();
    line_->setAccessibleName(tr("The chosen line"));
    drawing_sheet_->body()->addWidget(line_);
    return drawing_sheet_;
}

QWidget* TapView::make_wanted() {
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    wanted_sheet_ = new Sheet(tr("What it has to hold"));
    shortest_ = new Field;
    shortest_->setAccessibleName(tr("Shortest pulse"));
    shortest_->setToolTip(tr("The shortest pulse that may come, such as 2 µs"));
    shortest_->setPlaceholderText(tr("such as 2us"));
    shortest_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) {
            change(tr("shortest pulse"), [](TapPlan& t) { t.shortest = {}; });
            return std::nullopt;
        }
        const auto time = parse_time(text.trimmed().toStdString());
        if (!time || *time <= Time{}) return tr("Found \"%1\", expected a time such as 2us.").arg(text);
        change(tr("shortest pulse"), [&](TapPlan& t) {
            t.shortest.value = *time;
            if (t.shortest.evidence == Evidence{}) t.shortest.evidence.kind = EvidenceKind::assumed;
        });
        return std::nullopt;
    };
    remove_ = new QPushButton(tr("Remove"));
    remove_->setToolTip(tr("Take the chosen one off the list"));
    remove_->setProperty("compact", true);
    connect(remove_, &QPushButton::clicked, this, [this] {
        const auto id = wishes_->key(wishes_->chosen()).toString().toStdString();
        if (!id.empty())
            change(tr("something wanted less"), [&](TapPlan& t) {
                std::erase_if(t.wishes, [&](const TapWish& w) { return w.id == id; });
            });
    });
    wanted_sheet_->add_to_title(remove_);
    auto* pulse = new QHBoxLayout;
    auto* pulse_label = new QLabel(tr("Shortest pulse"));
    pulse_label->setBuddy(shortest_);
    pulse->addWidget(pulse_label);
    pulse->addWidget(shortest_, 1);
    wanted_sheet_->body()->addLayout(pulse);
    wishes_ = new FactTable;
    wishes_->set_columns({{tr("Wanted"), 90, false, true},
                          {tr("What you do"), 96, false, true},
                          {tr("Every"), 52, true, true},
                          {tr("Times"), 46, true, true}},
                         tr("What the recording has to hold"));
    connect(wishes_, &FactTable::edited, this, &TapView::edit_wish);
    wanted_sheet_->body()->addWidget(wishes_, 1);
    column->addWidget(wanted_sheet_, 3);
    steps_sheet_ = new Sheet(tr("In this order"));
    steps_ = plain_label();
    steps_sheet_->body()->addWidget(scrolling(steps_), 1);
    column->addWidget(steps_sheet_, 4);
    cautions_ = new CautionBox(tr("Before you clip anything on"));
    column->addWidget(cautions_, 3);
    return whole;
}

void TapView::change(const QString& what, const std::function<void(TapPlan&)>& edit) {
    const auto* port = document_.dossier().find_port(port_.toStdString());
    if (port == nullptr) return;
    Port changed = *port;
    edit(changed.taps);
    if (changed != *port) document_.apply(what, put(document_.dossier(), std::move(changed)));
}

void TapView::edit_wish(int row, int column, const QString& typed) {
    const auto text = typed.trimmed().toStdString();
    const auto id = wishes_->key(row).toString().toStdString();
    if (id.empty() && text.empty()) return;
    std::optional<double> every;
    long times = 20;
    if (column == 2 && !text.empty()) {
        const auto v = parse_number(text, Unit::second);
        if (!v || !(*v > 0 && *v <= 1e9)) {
            steps_->setText(
                tr("Found \"%1\", expected how often it comes, such as 10 s; empty when you bring it "
                   "about.")
                    .arg(typed));
            return;
        }
        every = *v;
    }
    if (column == 3) {
        const auto v = parse_number(text, Unit::none);
        if (!v || !(*v >= 1 && *v <= 1e6)) {
            steps_->setText(tr("Found \"%1\", expected a count from 1.").arg(typed));
            return;
        }
        times = static_cast<long>(*v);
    }
    change(tr("what the recording has to hold"), [&](TapPlan& t) {
        auto it =
            std::find_if(t.wishes.begin(), t.wishes.end(), [&](const TapWish& w) { return w.id == id; });
        if (it == t.wishes.end()) {
            TapWish fresh;
            for (int n = 1; fresh.id.empty(); ++n) {
                const auto candidate = "wish" + std::to_string(n);
                if (std::none_of(t.wishes.begin(), t.wishes.end(),
                                 [&](const TapWish& w) { return w.id == candidate; }))
                    fresh.id = candidate;
            }
            t.wishes.push_back(std::move(fresh));
            it = t.wishes.end() - 1;
        }
        switch (column) {
            case 0: it->what = text; break;
            case 1: it->how = text; break;
            case 2: it->every_s = every; break;
            default: it->times = times; break;
        }
    });
}

void TapView::fill_wishes(const Port& port) {
    std::vector<TableRow> rows;
    for (const auto& w : port.taps.wishes) {
        TableRow row{{to_q(w.what)},
                     {to_q(w.how)},
                     {w.every_s ? to_q(print_number(*w.every_s, Unit::second, 3)) : QString()},
                     {QString::number(w.times)}};
        row[0].key = to_q(w.id);
        rows.push_back(std::move(row));
    }
    TableRow blank(4);  // for the next one
    blank[0].key = QString();
    rows.push_back(std::move(blank));
    wishes_->set_rows(std::move(rows));
}

void TapView::fill_lines() {
    std::vector<TableRow> rows;
    for (const auto& l : study_.lines) {
        if (l.way == TapWay::none) continue;
        const bool levels = l.run > 0;
        TableRow row{{to_q(l.pin)},
                     {to_q(l.name)},
                     {to_q(word(l.way))},
                     {levels ? tr("%1 to %2")
                                   .arg(to_q(print_number(l.lowest_v, Unit::volt, 2)),
                                        to_q(print_number(l.highest_v, Unit::volt, 2)))
                             : QString()},
                     {l.channel == 0    ? QString()
                      : study_.runs > 1 ? tr("%1 · run %2").arg(l.channel).arg(l.run)
                                        : QString::number(l.channel)}};
        row[0].key = to_q(l.pin);
        row[2].tip = to_q(l.says);
        if (l.verdict != Verdict::holds) row[2].icon = verdict_icon(l.verdict);
        rows.push_back(std::move(row));
    }
    lines_->set_rows(std::move(rows));
}

void TapView::choose(const std::string& id) {
    if (id == chosen_) return;
    chosen_ = id;
    drawing_->show_drawing(draw_taps(study_, drawing_->width(), chosen_));
    say();
}

void TapView::show_port(const QString& id) {
    port_ = id;
    const auto* port = document_.dossier().find_port(id.toStdString());
    for (QWidget* w : std::initializer_list<QWidget*>{analyser_, card_, shortest_, wishes_, remove_})
        w->setEnabled(port != nullptr);
    if (port == nullptr) return;
    const auto& data = document_.data();
    const auto connector = data.connectors.find(port->connector);
    study_ = plan_taps(*port, connector ? &*connector : nullptr, data.families, data.analysers);
    {
        const QSignalBlocker block(analyser_);
        if (study_.analyser != nullptr)
            analyser_->setCurrentIndex(analyser_->findData(to_q(study_.analyser->id)));
    }
    shortest_->show_value(port->taps.shortest.value ? to_q(print(*port->taps.shortest.value)) : QString());
    fill_wishes(*port);
    fill_lines();
    drawing_->show_drawing(draw_taps(study_, drawing_->width(), chosen_));
    cautions_->show_cautions(
        cautions_for(data.cautions, data.families, document_.dossier(), Stage::port, "tap", port));
    say();
}

void TapView::say() {
    const TapLine* chosen = nullptr;
    const TapLine* worst = nullptr;
    for (const auto& l : study_.lines) {
        if ("pin " + l.pin == chosen_) chosen = &l;
        if (worst == nullptr ||
            (worse(worst->verdict, l.verdict) == l.verdict && l.verdict != worst->verdict))
            worst = &l;
    }
    if (chosen == nullptr) chosen = worst;
    QStringList about;
    if (chosen != nullptr)
        about << tr("%1 · %2 · %3").arg(to_q(chosen->pin), to_q(chosen->name), to_q(chosen->says));
    for (const auto& d : study_.doubts) about << to_q(d);
    line_->setText(about.join(QStringLiteral("\n")));
    drawing_sheet_->set_about(
        study_.analyser == nullptr
            ? QString()
            : tr("record %1 at %2")
                  .arg(seconds_text(study_.seconds), to_q(print_number(study_.rate_hz, Unit::hertz))));
    QStringList lines;
    int n = 0;
    for (const auto& b : study_.before) lines << tr("%1. %2").arg(++n).arg(to_q(b));
    for (const auto& s : study_.steps)
        lines << tr("%1: %2 (%3)")
                     .arg(to_q(s.what.empty() ? "something" : s.what), to_q(s.how), seconds_text(s.seconds));
    steps_->setText(lines.join(QLatin1Char('\n')));
}

bool TapView::write_card_to(const QString& path) {
    if (!wait_for_analysis(window(), tr("Computing what the card says"), document_)) return false;
    const auto card = tap_card(document_.analysis(), port_.toStdString());
    const auto written =
        card ? render::write_card(*card, path.toStdString(), document_.dossier().about->name)
             : tl::expected<std::vector<std::filesystem::path>, Error>(tl::unexpected(card.error()));
    line_->setText(written ? tr("Written to %1.").arg(path) : to_q(written.error().message()));
    return written.has_value();
}

}  // namespace grayrelic::app
