// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/lines_view.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/quantity.hpp"
#include "core/report/wire_figure.hpp"
#include "core/wire/begin.hpp"

namespace grayrelic::app {
namespace {

QString volts(const std::optional<double>& v) {
    return v ? to_q(print_number(*v, Unit::volt)) : QObject::tr("open");
}

TableCell margin(const std::optional<double>& v) {
    TableCell cell(volts(v));
    if (v) {
        cell.sort = *v;
        if (*v < 0)
            cell.colour = theme().oxide;
        else if (*v < thin_margin_v)
            cell.colour = theme().brass;
    }
    return cell;
}

}  // namespace

LinesView::LinesView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    ribbon_sheet_ = new Sheet(tr("From the old connector to the modern side"));
    ribbons_ = new DrawingView(tr("Lines from the old connector to the modern side"));
    ribbons_->setFocusPolicy(Qt::StrongFocus);
    ribbons_->redraw = [this](double width) {
        const auto& w = document_.analysis().wire;
        return w ? draw_ribbons(*w, width, row_) : Drawing{};
    };
    connect(ribbons_, &DrawingView::picked, this, [this](const QString& id) {
        if (id.startsWith(QStringLiteral("contact "))) select_row(id.mid(8).toULongLong());
    });
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setWidget(ribbons_);
    scroll->setFocusProxy(ribbons_);
    ribbon_sheet_->body()->addWidget(scroll, 1);
    column->addWidget(ribbon_sheet_, 3);
    column->addWidget(make_line(), 2);
}

QWidget* LinesView::make_line() {
    line_sheet_ = new Sheet(tr("Choose a line"));
    way_ = new Field;
    way_->setPlaceholderText(tr("Lead it on: resistor 10k to M1.P4   ·   to M1.P4   ·   resistor 4k7 to V5"));
    way_->setAccessibleName(tr("Where the line leads, as one line"));
    way_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        return enter_way(text);
    };
    line_sheet_->body()->addWidget(way_);
    auto* row = new QHBoxLayout;
    row->setSpacing(12);
    links_ = new FactTable;
    links_->set_columns(
        {{tr("From"), 84}, {tr("To"), 84}, {tr("High"), 82, true}, {tr("Low"), 82, true}, {tr("Why"), 70}},
        tr("Drivers and readers of the line"));
    row->addWidget(links_, 3);
    auto* column = new QWidget;
    auto* right = new QVBoxLayout(column);
    right->setContentsMargins(0, 0, 0, 0);
    right->setSpacing(4);
    faults_ = new QLabel;
    faults_->setWordWrap(true);
    faults_->setTextFormat(Qt::PlainText);
    faults_->setAccessibleName(tr("What is wrong with the line"));
    right->addWidget(faults_);
    fix_note_ = secondary_label({});
    fix_note_->setWordWrap(true);
    right->addWidget(fix_note_);
    fix_column_ = new QVBoxLayout;
    fix_column_->setSpacing(4);
    right->addLayout(fix_column_);
    right->addStretch(1);
    fix_area_ = new QScrollArea;
    fix_area_->setWidgetResizable(true);
    fix_area_->setFrameShape(QFrame::NoFrame);
    fix_area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    fix_area_->setWidget(column);
    fix_area_->setMinimumHeight(60);
    row->addWidget(fix_area_, 2);
    line_sheet_->body()->addLayout(row, 1);
    return line_sheet_;
}

void LinesView::refresh() {
    const auto& w = document_.analysis().wire;
    const std::size_t rows = w ? w->ribbons.size() : 0;
    if (row_ && *row_ >= rows) row_.reset();
    if (w && !row_ && rows > 0) {
        // What fails first is what one came for.
        std::size_t worst = 0;
        while (worst + 1 < rows && w->ribbons[worst].lines.empty()) ++worst;  // a signal rather than a supply
        for (std::size_t i = 0; i < rows; ++i)
            if (!w->ribbons[i].lines.empty() && w->ribbons[i].verdict != w->ribbons[worst].verdict &&
                worse(w->ribbons[i].verdict, w->ribbons[worst].verdict) == w->ribbons[i].verdict)
                worst = i;
        row_ = worst;
        line_.clear();
    }
    long stop = 0, doubt = 0;
    if (w)
        for (const auto& l : w->study.lines) {
            stop += l.verdict == Verdict::stop ? 1 : 0;
            doubt += l.verdict == Verdict::doubt ? 1 : 0;
        }
    ribbon_sheet_->set_about(
        rows == 0
            ? tr("No port stands on the circuit yet: begin it under Netlist.")
            : tr("thick: what the line surely gives low and high; ticks: what is needed · %1 stop, %2 doubt")
                  .arg(stop)
                  .arg(doubt));
    draw();
    fill_line();
}

void LinesView::draw() {
    const auto& w = document_.analysis().wire;
    ribbons_->show_drawing(w ? draw_ribbons(*w, std::max(560, ribbons_->width()), row_) : Drawing{});
}

void LinesView::select_row(std::size_t row) {
    row_ = row;
    line_.clear();
    draw();
    fill_line();
}

void LinesView::select(const QString& line) {
    line_ = line.toStdString();
    const auto& w = document_.analysis().wire;
    if (!w) return;
    if (const auto at = w->find_line(line_)) {
        row_.reset();
        for (std::size_t i = 0; i < w->ribbons.size() && !row_; ++i)
            for (const auto l : w->ribbons[i].lines)
                if (l == *at) row_ = i;
    }
    draw();
    fill_line();
}

void LinesView::keyPressEvent(QKeyEvent* event) {
    const auto& w = document_.analysis().wire;
    const auto rows = w ? w->ribbons.size() : 0;
    if (rows > 0 && (event->key() == Qt::Key_Down || event->key() == Qt::Key_Up)) {
        const auto now = row_.value_or(0);
        select_row(event->key() == Qt::Key_Down ? std::min(now + 1, rows - 1) : now - (now > 0 ? 1 : 0));
        return;
    }
    QWidget::keyPressEvent(event);
}

void LinesView::fill_line() {
    const auto& w = document_.analysis().wire;
    std::vector<TableRow> rows;
    QStringList faults;
    QString title = tr("Choose a line"), about;
    if (w && row_ && *row_ < w->ribbons.size()) {
        const auto& ribbon = w->ribbons[*row_];
        title = to_q(w->circuit.contacts[ribbon.contact].name());
        about = to_q(w->circuit.contacts[ribbon.contact].place());
    }
    std::vector<std::size_t> lines;
    if (w && !line_.empty()) {
        if (const auto at = w->find_line(line_)) lines.push_back(*at);
        title = to_q(line_);
    } else if (w && row_ && *row_ < w->ribbons.size()) {
        lines = w->ribbons[*row_].lines;
    }
    for (const auto at : lines) {
        const auto& line = w->study.lines[at];
        for (const auto& f : line.faults)
            if (f.verdict != Verdict::holds) faults << to_q(f.says + ". " + f.why + " " + f.todo);
        for (const auto i : line.links) {
            const auto& l = w->study.links[i];
            TableCell from(to_q(w->circuit.name_of(w->circuit.drivers[l.driver])));
            from.icon = verdict_icon(l.levels.verdict);
            from.sort = static_cast<double>(l.levels.verdict);
            auto high = margin(l.levels.high_margin_v);
            if (l.levels.over_limit) high = TableCell(tr("over"), theme().oxide);
            rows.push_back({from, to_q(w->circuit.name_of(w->circuit.receivers[l.receiver])), high,
                            margin(l.levels.low_margin_v), to_q(l.levels.why)});
        }
        if (at == lines.front() && line.farad > 0)
            about +=
                (about.isEmpty() ? QString() : QStringLiteral(" · ")) +
                tr("about %1 by inputs, driver and lead").arg(to_q(print_number(line.farad, Unit::farad, 2)));
    }
    way_->setEnabled(document_.is_open() && row_.has_value());
    line_sheet_->set_title(title);
    const bool supply = w && row_ && *row_ < w->ribbons.size() && line_.empty() &&
                        (w->ribbons[*row_].flow == RibbonRow::Flow::supply ||
                         w->ribbons[*row_].flow == RibbonRow::Flow::ground);
    line_sheet_->set_about(
        !rows.empty() ? about
        : supply      ? tr("A supply or a ground: no levels to judge. What a supply bears is not judged yet.")
                      : tr("Nothing drives it, or nobody reads it."));
    links_->set_rows(std::move(rows));
    faults_->setText(faults.join(QStringLiteral("\n")));
    faults_->setVisible(!faults.isEmpty());
    ask_fixes();
}

void LinesView::ask_fixes() {
    latest_.cancel();
    show_fixes({});
    const auto& a = document_.analysis();
    if (!a.wire || !a.data || !document_.is_open()) return;
    std::vector<std::size_t> failing;
    const auto add = [&](std::size_t l) {
        const auto v = a.wire->study.lines[l].verdict;
        if (v == Verdict::stop || v == Verdict::doubt || v == Verdict::unknown) failing.push_back(l);
    };
    if (!line_.empty()) {
        if (const auto at = a.wire->find_line(line_)) add(*at);
    } else if (row_ && *row_ < a.wire->ribbons.size()) {
        for (const auto l : a.wire->ribbons[*row_].lines) add(l);
    }
    if (failing.empty()) {
        fix_note_->setText(row_ ? tr("No level, limit or driver to mend.") : QString());
        return;
    }
    fix_note_->setText(tr("Looking for what would mend it …"));
    latest_.ask(
        [wire = a.wire, data = a.data, dossier = a.dossier, drawer = a.person->drawer, failing](Progress&) {
            Offered out;
            const CircuitData parts{&data->logic, &data->families};
            for (const auto l : failing)
                for (auto& f : fixes_for(dossier, wire->circuit, wire->study, l, parts, drawer))
                    if (out.fixes.size() < 4) out.fixes.push_back(std::move(f));
            return out;
        },
        [this](const Offered& o) { show_fixes(o.fixes); });
}

void LinesView::show_fixes(const std::vector<WireFix>& fixes) {
    for (auto* b : fix_buttons_) {
        b->hide();
        b->deleteLater();
    }
    fix_buttons_.clear();
    fix_note_->setText(fixes.empty() ? tr("No single change mends it; see what the finding says.")
                                     : tr("Each was tried on a copy. A click does it; undo takes it back."));
    for (const auto& fix : fixes) {
        auto* b = new QPushButton;
        const auto text = to_q(fix.says);
        b->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        b->setProperty("whole", text);
        b->setToolTip(text + QStringLiteral("\n") +
                      tr("Then: %1").arg(to_q(fix.then.empty() ? std::string(word(fix.verdict)) : fix.then)));
        b->setAccessibleName(text);
        b->setIcon(verdict_icon(fix.verdict));
        b->setProperty("compact", true);
        connect(b, &QPushButton::clicked, this, [this, fix] { apply(fix); });
        fix_column_->addWidget(b);
        fix_buttons_ << b;
    }
    cut_fixes();
}

/// Their text in the room that there is; the whole stands in the tooltip.
void LinesView::cut_fixes() {
    constexpr int frame_and_icon = 52;
    for (auto* b : fix_buttons_)
        b->setText(
            b->fontMetrics().elidedText(b->property("whole").toString(), Qt::ElideMiddle,
                                        std::max(80, fix_area_->viewport()->width() - frame_and_icon)));
}

void LinesView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    cut_fixes();
}

std::optional<QString> LinesView::enter_way(const QString& text) {
    const auto& a = document_.analysis();
    if (!a.wire || !a.data || !row_ || *row_ >= a.wire->ribbons.size())
        return tr("Choose a line above first.");
    const auto& contact = a.wire->circuit.contacts[a.wire->ribbons[*row_].contact];
    const auto& net = a.wire->circuit.nets[static_cast<std::size_t>(contact.net)].name;
    auto next = with_typed_way(document_.dossier(), a.wire->circuit, a.data->logic, net, text.toStdString());
    if (!next) return tr("Found %1, expected %2.").arg(to_q(next.error().found), to_q(next.error().expected));
    way_->clear();
    way_->show_value({});
    document_.apply(tr("lead %1 on").arg(to_q(net)), std::move(*next));
    return std::nullopt;
}

void LinesView::apply(const WireFix& fix) {
    auto next = apply_fix(document_.dossier(), fix);
    document_.apply(to_q(fix.says), std::move(next));
}

}  // namespace grayrelic::app
