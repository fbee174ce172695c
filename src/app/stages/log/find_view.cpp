// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/log/find_view.hpp"

#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/record/search.hpp"

namespace grayrelic::app {
namespace {

TableCell where(const std::optional<Stage>& stage, const std::string& section, std::size_t place) {
    TableCell cell(stage ? to_q(label(*stage)) : to_q(section));
    cell.sort = static_cast<double>(place);
    if (stage) cell.key = static_cast<int>(*stage);
    return cell;
}

}  // namespace

FindView::FindView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    sheet_ = new Sheet(tr("Everything in this dossier"));
    words_ = new Field;
    words_->setAccessibleName(tr("Words to look for"));
    words_->setPlaceholderText(tr("a pin, a part, a day, a name; empty: the time line"));
    words_->commit = [this](const QString& text) -> std::optional<QString> {
        looked_for_ = text.trimmed();
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
    words_->show_value(text);
    refresh();
}

void FindView::refresh() {
    std::vector<TableRow> rows;
    const auto& d = document_.dossier();
    if (looked_for_.isEmpty()) {
        for (const auto& t : time_line(d))
            rows.push_back({where(t.stage, t.section, rows.size()), to_q(t.day), to_q(t.what), to_q(t.says)});
        sheet_->set_about(rows.empty() ? tr("Nothing here has a day yet.")
                                       : tr("Its time line: all that has a day, the oldest first."));
    } else {
        for (const auto& h : search(d, looked_for_.toStdString()))
            rows.push_back(
                {where(h.stage, h.section, rows.size()), to_q(h.day), to_q(h.what), to_q(h.value)});
        sheet_->set_about(rows.empty() ? tr("Nothing holds these words.")
                          : rows.size() >= most_hits
                              ? tr("The first %1 of many places; one more word narrows it.").arg(rows.size())
                              : to_q(plural(static_cast<long long>(rows.size()), "place", "places")));
    }
    lines_->set_rows(std::move(rows));
}

}  // namespace grayrelic::app
