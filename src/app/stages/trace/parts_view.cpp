// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/trace/parts_view.hpp"

#include <QApplication>
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/trace/points.hpp"

namespace grayrelic::app {
namespace {

QString number(const std::optional<double>& v) {
    return v ? QString::number(*v, 'f', 2) : QString();
}

}  // namespace

PartsView::PartsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    parts_sheet_ = new Sheet(tr("Parts on the board"));
    auto* remove = new QPushButton(tr("Remove"));
    remove->setToolTip(tr("Remove the chosen parts; undo brings them back"));
    connect(remove, &QPushButton::clicked, this, &PartsView::remove_chosen);
    parts_sheet_->add_to_title(remove);
    entry_ = new Field;
    entry_->setPlaceholderText(tr("U3 74x138 86.4 15.2 90"));
    entry_->setAccessibleName(tr("A part as one line"));
    entry_->setToolTip(tr("Name, type, place of pin 1 in mm, turn in degrees, and back when it sits there"));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        return enter_part(text);
    };
    parts_sheet_->body()->addWidget(entry_);
    parts_ = new FactTable;
    parts_->set_columns({{tr("Part"), 52},
                         {tr("Type"), 100, false, true},
                         {tr("Value"), 60, false, true},
                         {tr("Package"), 90, false, true},
                         {tr("x mm"), 62, true, true},
                         {tr("y mm"), 62, true, true},
                         {tr("Turn °"), 58, true, true},
                         {tr("What it is"), 200}},
                        tr("Parts"));
    parts_sheet_->body()->addWidget(parts_, 1);
    whole->addWidget(parts_sheet_, 3);
    auto* low = new QHBoxLayout;
    low->setSpacing(12);
    donor_sheet_ = new Sheet(tr("Parts from donors"));
    auto* add = new QPushButton(tr("Add"));
    connect(add, &QPushButton::clicked, this, [this] {
        Donor d;
        d.id = free_id<Donor>(document_.dossier(), "donor");
        d.part = tr("a part").toStdString();
        for (const auto& other : things<Donor>(document_.dossier())) d.order = std::max(d.order, other.order);
        ++d.order;
        document_.apply(tr("a donor part"), put(document_.dossier(), std::move(d)));
    });
    donor_sheet_->add_to_title(add);
    donors_ = new FactTable;
    donors_->set_columns({{tr("Order"), 50, true, true},
                          {tr("Part"), 120, false, true},
                          {tr("From"), 100, false, true},
                          {tr("To"), 44, false, true},
                          {tr("Condition"), 120, false, true},
                          {tr("Cleaning"), 100, false, true},
                          {tr("Heats"), 48, true, true},
                          {tr("Limit"), 48, true, true},
                          {tr("Verdict"), 70, false, true}},
                         tr("Donor parts"));
    donor_sheet_->body()->addWidget(donors_, 1);
    low->addWidget(donor_sheet_, 5);
    cautions_ = new CautionBox(tr("Before you take it out"));
    cautions_->setMaximumWidth(300);
    low->addWidget(cautions_, 2);
    whole->addLayout(low, 2);
    connect(parts_, &FactTable::edited, this, &PartsView::change_part);
    connect(donors_, &FactTable::edited, this, &PartsView::change_donor);
}

std::optional<QString> PartsView::enter_part(const QString& line) {
    const auto words = line.simplified().split(QLatin1Char(' '));
    BoardPart p;
    p.ref = words[0].toStdString();
    if (const auto problem = point_name_problem(p.ref);
        !problem.empty() || p.ref.find('.') != std::string::npos)
        return tr("Expected a part's name such as U3.");
    int numbers = 0;
    for (int i = 1; i < words.size(); ++i) {
        bool fine = false;
        const double v = words[i].toDouble(&fine);
        if (fine && i >= 2) {
            if (numbers == 0) p.x_mm = v;
            if (numbers == 1) p.y_mm = v;
            if (numbers == 2) p.turn_deg = v;
            if (++numbers > 3) return tr("Expected at most three numbers: x, y and turn.");
        } else if (words[i] == QLatin1String("back")) {
            p.side = BoardSide::back;
        } else if (i == 1) {
            p.type = words[i].toStdString();
            if (document_.data().parts.find(p.type) == nullptr)
                return tr("No part “%1” is known. Known are %2 and others.")
                    .arg(words[i], QStringLiteral("74x00, 74x245, sram-8kx8, resistor"));
        } else {
            return tr("Found “%1”, expected a number or back.").arg(words[i]);
        }
    }
    if (p.x_mm && !p.y_mm) return tr("Expected y after x.");
    p.evidence.kind = EvidenceKind::documented;
    p.evidence.source = "marking on the part";
    if (document_.dossier().trace->find_part(p.ref) != nullptr)
        return tr("%1 is there already; change it in the table.").arg(words[0]);
    document_.apply(tr("part %1").arg(words[0]), put(document_.dossier(), std::move(p)));
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

void PartsView::refresh() {
    const auto& t = *document_.dossier().trace;
    const auto& library = document_.data().parts;
    const auto figure = [](QString text, const std::optional<double>& value) {
        TableCell cell(std::move(text));
        cell.sort = value.value_or(-1e9);
        return cell;
    };
    std::vector<TableRow> rows;
    for (const auto& p : t.parts) {
        const auto* type = library.find(p.type);
        TableRow row{to_q(p.ref),
                     to_q(p.type),
                     to_q(p.value),
                     to_q(!p.package.empty() || type == nullptr ? p.package : type->package),
                     figure(number(p.x_mm), p.x_mm),
                     figure(number(p.y_mm), p.y_mm),
                     figure(QString::number(p.turn_deg), p.turn_deg),
                     type != nullptr  ? to_q(type->name)
                     : p.type.empty() ? tr("a connector, or of no known type")
                                      : tr("not in the parts folder")};
        row[0].key = to_q(p.ref);
        rows.push_back(std::move(row));
    }
    parts_->set_rows(std::move(rows));
    parts_sheet_->set_about(t.parts.empty()
                                ? tr("Type the first part above: its pin-out tells which pins are supplies, "
                                     "buses and outputs, and saves most of the probing.")
                                : QString());
    rows.clear();
    for (const auto& d : t.donors) {
        TableRow row{d.order > 0 ? QString::number(d.order) : QString(),
                     to_q(d.part),
                     to_q(d.from),
                     to_q(d.to),
                     to_q(d.condition),
                     to_q(d.cleaning),
                     QString::number(d.heat_cycles),
                     d.heat_limit > 0 ? QString::number(d.heat_limit) : QString(),
                     to_q(d.verdict)};
        row[0].key = to_q(d.id);
        row[0].sort = d.order;
        row[6].sort = d.heat_cycles;
        row[7].sort = d.heat_limit;
        rows.push_back(std::move(row));
    }
    donors_->set_rows(std::move(rows));
    donor_sheet_->set_about(t.donors.empty() ? tr("Parts that a reproduction takes from a dead board: their "
                                                  "state, and how often they have been heated.")
                                             : QString());
    cautions_->show_cautions(cautions_for(document_.data().cautions, document_.data().families,
                                          document_.dossier(), Stage::trace,
                                          t.donors.empty() ? "measure" : "transfer"));
}

void PartsView::change_part(int row, int column, const QString& typed) {
    const auto& known = things<BoardPart>(document_.dossier());
    if (row >= static_cast<int>(known.size())) return;
    auto p = known[static_cast<std::size_t>(row)];
    const auto text = typed.trimmed();
    bool fine = true;
    const double v = text.isEmpty() ? 0 : text.toDouble(&fine);
    const auto place = text.isEmpty() ? std::nullopt : std::optional(v);
    switch (column) {
        case 1:
            fine = text.isEmpty() || document_.data().parts.find(text.toStdString()) != nullptr;
            p.type = text.toStdString();
            break;
        case 2:
            fine = true;
            p.value = text.toStdString();
            break;
        case 3: {
            const auto* type = document_.data().parts.find(p.type);
            fine = text.isEmpty() || package_pins(text.toStdString()).has_value();
            p.package =
                type != nullptr && type->package == text.toStdString() ? std::string() : text.toStdString();
            break;
        }
        case 4: p.x_mm = place; break;
        case 5: p.y_mm = place; break;
        case 6: p.turn_deg = v; break;
        default: return;
    }
    if (!fine) {
        parts_sheet_->set_about(
            column == 1 ? tr("No part “%1” is known.").arg(text)
            : column == 3
                ? tr("Found “%1”, expected a package such as dip-20, dip-28-15.24, axial-10.16 or sip-9.")
                      .arg(text)
                : tr("Found “%1”, expected a number.").arg(text));
        QApplication::beep();
        const auto message = parts_sheet_->about();
        refresh();
        parts_sheet_->set_about(message);
        return;
    }
    const auto ref = to_q(p.ref);
    document_.apply(tr("part %1").arg(ref), put(document_.dossier(), std::move(p)));
}

void PartsView::change_donor(int row, int column, const QString& typed) {
    const auto& donors = things<Donor>(document_.dossier());
    if (row >= static_cast<int>(donors.size())) return;
    auto d = donors[static_cast<std::size_t>(row)];
    const auto text = typed.trimmed();
    bool fine = true;
    const int whole = text.isEmpty() ? 0 : text.toInt(&fine);
    std::string* const texts[] = {nullptr,     &d.part, &d.from, &d.to,     &d.condition,
                                  &d.cleaning, nullptr, nullptr, &d.verdict};
    int* const numbers[] = {&d.order, nullptr,        nullptr,       nullptr, nullptr,
                            nullptr,  &d.heat_cycles, &d.heat_limit, nullptr};
    QString problem;
    if (numbers[column] != nullptr) {
        if (!fine || whole < 0 || whole > 1000)
            problem = tr("Found “%1”, expected a whole number.").arg(text);
        else
            *numbers[column] = whole;
    } else {
        const auto word = text.toStdString();
        if (column == 8 && !word.empty() && word != "good" && word != "doubtful" && word != "dead")
            problem = tr("Found “%1”, expected good, doubtful or dead.").arg(text);
        *texts[column] = word;
    }
    if (!problem.isEmpty()) {
        QApplication::beep();
        refresh();
        donor_sheet_->set_about(problem);
        return;
    }
    const auto part = to_q(d.part);
    document_.apply(tr("donor %1").arg(part), put(document_.dossier(), std::move(d)));
}

void PartsView::remove_chosen() {
    const auto chosen = parts_->chosen_rows();
    if (chosen.isEmpty()) return;
    auto next = document_.dossier();
    for (const int r : chosen) next = drop<BoardPart>(next, parts_->text(r, 0).toStdString());
    document_.apply(tr("parts removed"), std::move(next));
}

void PartsView::show_donor(const QString& id) {
    const auto& donors = document_.dossier().trace->donors;
    for (std::size_t i = 0; i < donors.size(); ++i)
        if (to_q(donors[i].id) == id) donors_->choose(static_cast<int>(i));
}

}  // namespace grayrelic::app
