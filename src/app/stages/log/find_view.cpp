// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/log/find_view.hpp"

#include <QFileDialog>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/text.hpp"
#include "core/dossier/store.hpp"
#include "core/record/dossier_lines.hpp"

namespace grayrelic::app {
namespace {

TableCell where(const std::optional<Stage>& stage, const std::string& section, std::size_t place) {
    TableCell cell(stage ? to_q(label(*stage)) : to_q(section));
    cell.sort = static_cast<double>(place);
    if (stage) cell.key = static_cast<int>(*stage);
    return cell;
}

}  // namespace

FindView::FindView(Document& document, QWidget* parent) : QWidget(parent), document_(document), found_(this) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    sheet_ = new Sheet(tr("Everything in this dossier"));
    auto* compare = compact_button(tr("Compare with…"),
                                   tr("What differs from another dossier: pins, nets, values, contract"));
    connect(compare, &QPushButton::clicked, this, [this] {
        const auto path = ask_other();
        if (!path.isEmpty()) compare_with(path);
    });
    sheet_->add_to_title(compare);
    ask_other = [this] {
        return QFileDialog::getExistingDirectory(this, tr("Another dossier, of which this one came"));
    };
    words_ = new Field;
    words_->setAccessibleName(tr("Words to look for"));
    words_->setPlaceholderText(tr("a pin, a part, a day, a name; empty: the time line"));
    words_->commit = [this](const QString& text) -> std::optional<QString> {
        looked_for_ = text.trimmed();
        other_.clear();
        refresh();
        return std::nullopt;
    };
    sheet_->body()->addWidget(words_);
    lines_ = new FactTable;
    lines_->set_columns({{tr("Stage"), 64}, {tr("Day"), 96}, {tr("Where"), 260}, {tr("What"), 360}},
                        tr("Found"));
    lines_->setToolTip(tr("Enter or a double click goes to the stage"));
    connect(lines_, &FactTable::row_opened, this, [this](int row) {
        const auto key = lines_->key(row);
        if (key.isValid()) Q_EMIT stage_wanted(static_cast<Stage>(key.toInt()));
    });
    sheet_->body()->addWidget(lines_, 1);
    whole->addWidget(sheet_, 1);
}

void FindView::look_for(const QString& text) {
    looked_for_ = text;
    other_.clear();
    words_->show_value(text);
    refresh();
}

void FindView::compare_with(const QString& path) {
    other_ = path;
    refresh();
}

void FindView::refresh() {
    const auto d = document_.dossier();
    const auto text = looked_for_.toStdString();
    const auto other = other_.toStdString();
    sheet_->set_about(tr("Looking …"));
    found_.ask(
        [d, text, other](Progress&) {
            Found found;
            if (!other.empty()) {
                const auto before = load_dossier(dossier_folder(other));
                if (before)
                    found.changes = diff_dossiers(*before, d);
                else
                    found.changes = fail(before.error());
            } else if (text.empty())
                found.events = time_line(d);
            else
                found.hits = search(d, text);
            return found;
        },
        [this](const Found& found) { show_found(found); });
}

void FindView::show_changes(const Result<std::vector<DossierChange>>& changes) {
    std::vector<TableRow> rows;
    if (!changes) {
        sheet_->set_about(to_q(changes.error().message()));
    } else {
        for (const auto& c : *changes) {
            const auto after = c.after ? to_q(*c.after) : tr("gone");
            rows.push_back({where(stage_of_section(c.section), c.section, rows.size()), QString(),
                            to_q(c.what),
                            c.before ? tr("%1 → %2").arg(to_q(*c.before), after) : tr("new: %1").arg(after)});
        }
        sheet_->set_about(rows.empty() ? tr("No difference to %1.").arg(other_)
                                       : tr("%1 to %2; before → now")
                                             .arg(to_q(plural(static_cast<long long>(rows.size()),
                                                              "difference", "differences")),
                                                  other_));
    }
    lines_->set_rows(std::move(rows));
}

void FindView::show_found(const Found& found) {
    if (found.changes) return show_changes(*found.changes);
    std::vector<TableRow> rows;
    for (const auto& t : found.events)
        rows.push_back({where(t.stage, t.section, rows.size()), to_q(t.day), to_q(t.what), to_q(t.says)});
    for (const auto& h : found.hits)
        rows.push_back({where(h.stage, h.section, rows.size()), to_q(h.day), to_q(h.what), to_q(h.value)});
    if (looked_for_.isEmpty())
        sheet_->set_about(rows.empty() ? tr("Nothing here has a day yet.")
                                       : tr("Its time line: all that has a day, the oldest first."));
    else
        sheet_->set_about(rows.empty() ? tr("Nothing holds these words.")
                          : rows.size() >= most_search_hits
                              ? tr("The first %1 of many places; one more word narrows it.").arg(rows.size())
                              : to_q(plural(static_cast<long long>(rows.size()), "place", "places")));
    lines_->set_rows(std::move(rows));
}

}  // namespace grayrelic::app
