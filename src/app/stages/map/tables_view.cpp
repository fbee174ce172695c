// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/tables_view.hpp"

#include <fmt/format.h>

#include <QEvent>
#include <QFileDialog>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/file_system.hpp"
#include "core/base/form.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/input/map_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int typing_pause_ms = 350;

}  // namespace

TablesView::TablesView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    ask_file = [this] {
        const auto name = to_q(c_name(document_.dossier().about->name, false)) + QLatin1Char('.') +
                          (kind_now() == QStringLiteral("form") ? QStringLiteral("txt") : kind_now());
        return QFileDialog::getSaveFileName(this, tr("Write the map"), name);
    };
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    sheet_ = new Sheet(tr("For the firmware"));
    kind_ = new ChoiceBox(tr("Form of the table"));
    kind_->addItem(tr("C header"), QStringLiteral("h"));
    kind_->addItem(QStringLiteral("JSON"), QStringLiteral("json"));
    kind_->addItem(QStringLiteral("CSV"), QStringLiteral("csv"));
    kind_->addItem(tr("Own form"), QStringLiteral("form"));
    kind_->addItem(tr("Own form, filled"), QStringLiteral("filled"));
    connect(kind_, &QComboBox::currentIndexChanged, this, [this] {
        commit_form();
        fill_text();
    });
    write_ = new QPushButton(tr("Write …"));
    write_->setProperty("compact", true);
    write_->setToolTip(
        tr("The table as a file, whole or not at all; its checksum tells firmware that was built for another "
           "map"));
    connect(write_, &QPushButton::clicked, this, [this] {
        const auto path = ask_file();
        if (!path.isEmpty()) sheet_->set_about(write_to(path));
    });
    sheet_->add_to_title(kind_);
    sheet_->add_to_title(write_);
    text_ = new QPlainTextEdit;
    text_->setFont(figure_font(12));
    text_->setLineWrapMode(QPlainTextEdit::NoWrap);
    text_->setTabChangesFocus(true);
    text_->setAccessibleName(tr("The map as a table"));
    text_->installEventFilter(this);
    connect(text_, &QPlainTextEdit::textChanged, this, [this] {
        if (kind_now() == QStringLiteral("form") && text_->toPlainText() != shown_) pause_.start();
    });
    sheet_->body()->addWidget(text_, 1);
    column->addWidget(sheet_, 3);
    changes_sheet_ = new Sheet(tr("An edited copy"));
    take_ = new QPushButton(tr("Take over"));
    take_->setProperty("compact", true);
    take_->setToolTip(tr("The dossier's keys get the meanings of the edited copy; undo takes them back"));
    connect(take_, &QPushButton::clicked, this, [this] {
        document_.apply(tr("meanings from %1").arg(edited_name_),
                        put(document_.dossier(), take_map_table(*document_.dossier().map, edited_)));
    });
    changes_sheet_->add_to_title(take_);
    changes_ = new FactTable;
    changes_->set_columns({{tr("Code"), 90}, {tr("Here"), 140}, {tr("In the copy"), 140}, {tr("So"), 300}},
                          tr("Differences"));
    changes_sheet_->body()->addWidget(changes_, 1);
    column->addWidget(changes_sheet_, 2);
    pause_.setSingleShot(true);
    pause_.setInterval(typing_pause_ms);
    connect(&pause_, &QTimer::timeout, this, &TablesView::commit_form);
}

bool TablesView::eventFilter(QObject* watched, QEvent* event) {
    if (watched == text_ && event->type() == QEvent::FocusOut) commit_form();
    return QWidget::eventFilter(watched, event);
}

MapTable TablesView::table() const {
    const auto& map = *document_.dossier().map;
    const auto& a = document_.analysis().map;
    return map_table(map, a ? a->bits : std::vector<std::string>{},
                     document_.data().layouts.find(map.modern.layout));
}

Result<std::string> TablesView::made() const {
    const auto& map = *document_.dossier().map;
    const auto& name = document_.dossier().about->name;
    const auto t = table();
    if (kind_now() == QStringLiteral("h")) return map_c_header(t, name);
    if (kind_now() == QStringLiteral("json")) return map_json(t, map, name);
    if (kind_now() == QStringLiteral("csv")) return map_csv(t);
    return map_form(t, name, map.form);
}

void TablesView::refresh() {
    fill_text();
    fill_changes();
}

void TablesView::fill_text() {
    const auto& map = *document_.dossier().map;
    const auto t = table();
    const bool form = kind_now() == QStringLiteral("form");
    text_->setReadOnly(!form);
    if (form) {
        const auto text = to_q(map.form);
        if (text != shown_ && (!text_->hasFocus() || text_->toPlainText() == shown_)) {
            shown_ = text;
            text_->setPlainText(text);
        } else if (text_->toPlainText() != shown_ && !pause_.isActive() && !text_->hasFocus()) {
            text_->setPlainText(shown_);
        }
        write_->setEnabled(false);
        sheet_->set_about(
            tr("Your text; a line with {code}, {meaning} and the like is repeated for each code: {release} "
               "{with} {legend} {page} {usage} {modifiers} {press} {release_reports}; {profile} "
               "{descriptor}; {name} {count} {checksum}. {{ is a brace."));
        return;
    }
    const auto text = made();
    write_->setEnabled(text.has_value() && !map.keys.empty());
    shown_ = text ? to_q(*text) : QString();
    text_->setPlainText(shown_);
    if (!text) return sheet_->set_about(to_q(text.error().message()));
    auto about = tr("%1 codes, %2 test vectors, checksum %3")
                     .arg(t.entries.size())
                     .arg(t.vectors.size() + t.frames.size())
                     .arg(to_q(fmt::format("0x{:08X}", t.checksum)));
    if (!t.left_out.empty())
        about += tr(" · left out: %1").arg(to_q(fmt::format("{}", fmt::join(t.left_out, "; "))));
    sheet_->set_about(about);
}

void TablesView::commit_form() {
    pause_.stop();
    if (kind_now() != QStringLiteral("form") || text_->isReadOnly()) return;
    const auto typed = text_->toPlainText();
    if (typed == shown_) return;
    shown_ = typed;
    document_.apply(
        tr("form of the table"),
        edit(document_.dossier(), &Dossier::map, [&](DeviceMap& m) { m.form = typed.toStdString(); }),
        QStringLiteral("map form"));
}

QString TablesView::write_to(const QString& path) {
    const auto text = made();
    if (!text) return to_q(text.error().message());
    const auto done = write_atomically(disk(), path.toStdString(), *text);
    return done ? tr("Written: %1").arg(path) : to_q(done.error().message());
}

QString TablesView::take_file(const std::string& content, const QString& name) {
    auto entries = read_map_table(content, name.toStdString());
    if (!entries) return to_q(entries.error().message());
    edited_ = std::move(*entries);
    edited_name_ = name;
    fill_changes();
    return tr("%1: %2.").arg(name, changes_->row_count() == 0
                                       ? tr("no difference")
                                       : to_q(plural(changes_->row_count(), "difference", "differences")));
}

void TablesView::fill_changes() {
    std::vector<TableRow> rows;
    if (!edited_name_.isEmpty())
        for (const auto& c : compare_maps(table().entries, edited_)) {
            const auto& e = c.kind == MapChange::Kind::added ? c.after : c.before;
            TableCell code(to_q(e.code.empty() ? e.key : e.code + (e.with.empty() ? "" : " with " + e.with)));
            code.icon = verdict_icon(Verdict::doubt);
            rows.push_back({code, to_q(c.before.meaning), to_q(c.after.meaning), to_q(c.says)});
        }
    take_->setEnabled(!rows.empty());
    changes_sheet_->set_about(
        edited_name_.isEmpty()
            ? tr("Drop a JSON or CSV that was edited elsewhere: what differs from the dossier stands here.")
        : rows.empty() ? tr("%1 says the same as the dossier.").arg(edited_name_)
                       : tr("%1 differs from the dossier.").arg(edited_name_));
    changes_->set_rows(std::move(rows));
}

}  // namespace grayrelic::app
