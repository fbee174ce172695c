// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/log/publish_view.hpp"

#include <QDate>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/record/trial_words.hpp"
#include "core/report/user_card.hpp"
#include "render/pdf.hpp"
#include "render/release_files.hpp"

namespace grayrelic::app {
namespace {

enum RightColumn { right_what, right_who, right_licence };

}  // namespace

PublishView::PublishView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), missing_(this) {
    auto* whole = new QHBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    auto* left = new QVBoxLayout;
    left->setSpacing(8);
    problems_sheet_ = new Sheet(tr("Before it is published"));
    auto* pack = compact_button(
        tr("Write the pack…"),
        tr("A folder or zip with report, cards, files, licences and sums; nothing private inside"));
    connect(pack, &QPushButton::clicked, this, [this] {
        const auto path = ask_pack();
        if (!path.isEmpty()) write_pack_to(path);
    });
    problems_sheet_->add_to_title(pack);
    problems_ = new FactTable;
    problems_->set_columns({{tr("What is missing"), 250}, {tr("To do"), 190}}, tr("Before it is published"));
    problems_sheet_->body()->addWidget(problems_, 1);
    left->addWidget(problems_sheet_, 3);
    left->addWidget(make_rights(), 2);
    whole->addLayout(left, 3);
    whole->addWidget(make_card(), 2);
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
    ask_pack = [this] {
        return QFileDialog::getSaveFileName(this, tr("Write the pack"), QStringLiteral("release.zip"),
                                            tr("Zip archives (*.zip)"));
    };
    ask_card = [this] {
        return QFileDialog::getSaveFileName(this, tr("Write the page"), QStringLiteral("users-card.pdf"),
                                            tr("Pages (*.pdf *.svg *.png)"));
    };
}

QWidget* PublishView::make_rights() {
    rights_sheet_ = new Sheet(tr("Whose it is, and what allows it"));
    auto* top = new QGridLayout;
    top->setHorizontalSpacing(8);
    top->setVerticalSpacing(4);
    version_ = new Field;
    version_->setAccessibleName(tr("Version of the release"));
    version_->setPlaceholderText(tr("1.0"));
    version_->setMaximumWidth(90);
    version_->commit = [this](const QString& text) -> std::optional<QString> {
        document_.apply(
            tr("version of the release"), edit(document_.dossier(), &Dossier::log, [&](JobLog& log) {
                log.release.version = text.trimmed().toStdString();
                log.release.day = log.release.version.empty() ? std::string() : today().toStdString();
            }));
        return std::nullopt;
    };
    top->addWidget(secondary_label(tr("Version")), 0, 0);
    top->addWidget(version_, 0, 1);
    private_ = new Field;
    private_->setAccessibleName(tr("Words that stay private"));
    private_->setPlaceholderText(tr("names, streets"));
    private_->setToolTip(
        tr("Words with commas between that must not be in a pack. Your log-in name and your machine's are "
           "looked for anyway"));
    private_->commit = [this](const QString& text) -> std::optional<QString> {
        document_.apply(tr("words that stay private"),
                        edit(document_.dossier(), &Dossier::log, [&](JobLog& log) {
                            log.release.private_words.clear();
                            for (const auto& word : text.split(QLatin1Char(','), Qt::SkipEmptyParts))
                                if (!word.trimmed().isEmpty())
                                    log.release.private_words.push_back(word.trimmed().toStdString());
                        }));
        return std::nullopt;
    };
    top->addWidget(secondary_label(tr("Private words")), 1, 0);
    top->addWidget(private_, 1, 1);
    top->setColumnStretch(1, 1);
    rights_sheet_->body()->addLayout(top);
    rights_ = new FactTable;
    rights_->set_columns(
        {{tr("What"), 100, false, true}, {tr("By whom"), 80, false, true}, {tr("Licence"), 150, false, true}},
        tr("Rights"));
    connect(rights_, &FactTable::edited, this, [this](int row, int column, const QString& text) {
        const auto place = static_cast<std::size_t>(row);
        document_.apply(tr("rights"), edit(document_.dossier(), &Dossier::log, [&](JobLog& log) {
                            auto& r = log.release.rights;
                            if (place >= r.size()) return;
                            const auto said = text.trimmed().toStdString();
                            if (column == right_what) r[place].what = said;
                            if (column == right_who) r[place].who = said;
                            if (column == right_licence) r[place].licence = said;
                            if (r[place].what.empty()) r.erase(r.begin() + row);
                        }));
        refresh();
    });
    rights_sheet_->body()->addWidget(rights_, 1);
    entry_ = new Field;
    entry_->setAccessibleName(tr("A right"));
    entry_->setPlaceholderText(tr("hardware: licence; or firmware: licence: by whom"));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        SourceRight r{text.section(QLatin1Char(':'), 0, 0).trimmed().toStdString(),
                      text.section(QLatin1Char(':'), 2).trimmed().toStdString(),
                      text.section(QLatin1Char(':'), 1, 1).trimmed().toStdString()};
        if (r.what.empty() || r.licence.empty()) return tr("Expected what it is, a colon and its licence.");
        document_.apply(tr("a right"), edit(document_.dossier(), &Dossier::log,
                                            [&](JobLog& log) { log.release.rights.push_back(r); }));
        entry_->clear();
        entry_->show_value({});
        return std::nullopt;
    };
    rights_sheet_->body()->addWidget(entry_);
    return rights_sheet_;
}

QWidget* PublishView::make_card() {
    card_sheet_ = new Sheet(tr("For whoever will use it"));
    auto* write =
        compact_button(tr("Write the page…"), tr("One page: which way the plug goes, order of switching on, "
                                                 "lights, presses, what to do when it does not work"));
    connect(write, &QPushButton::clicked, this, [this] {
        const auto path = ask_card();
        if (!path.isEmpty()) write_card_to(path);
    });
    card_sheet_->add_to_title(write);
    card_ = new FactTable;
    card_->set_columns({{tr("Kind"), 76}, {tr("When"), 130}, {tr("It means"), 150}}, tr("Lines of the page"));
    card_sheet_->body()->addWidget(card_, 1);
    auto* line = new QHBoxLayout;
    card_kind_ = new ChoiceBox(tr("Kind of line"));
    for (const auto k : all_of<CardKind>()) card_kind_->addItem(to_q(word(k)), static_cast<int>(k));
    card_entry_ = new Field;
    card_entry_->setAccessibleName(tr("A line of the page"));
    card_entry_->setPlaceholderText(tr("green blinks = waiting for the pad"));
    card_entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        const auto said =
            card_line_from_text(text.toStdString(), static_cast<CardKind>(card_kind_->currentData().toInt()));
        if (!said) return to_q(said.error().message());
        document_.apply(tr("a line of the page"), edit(document_.dossier(), &Dossier::log,
                                                       [&](JobLog& log) { log.card.push_back(*said); }));
        card_entry_->clear();
        card_entry_->show_value({});
        return std::nullopt;
    };
    auto* drop_line = compact_button(tr("Remove"), tr("Takes the chosen line out"));
    connect(drop_line, &QPushButton::clicked, this, [this] {
        const int row = card_->chosen();
        if (row < 0) return;
        document_.apply(tr("remove a line"), edit(document_.dossier(), &Dossier::log, [&](JobLog& log) {
                            if (row < static_cast<int>(log.card.size()))
                                log.card.erase(log.card.begin() + row);
                        }));
    });
    line->addWidget(card_kind_);
    line->addStretch(1);
    line->addWidget(drop_line);
    card_sheet_->body()->addLayout(line);
    card_sheet_->body()->addWidget(card_entry_);
    return card_sheet_;
}

void PublishView::refresh() {
    const auto& log = *document_.dossier().log;
    version_->show_value(to_q(log.release.version));
    QStringList words;
    for (const auto& w : log.release.private_words) words << to_q(w);
    private_->show_value(words.join(QStringLiteral(", ")));
    std::vector<TableRow> rights;
    for (const auto& r : log.release.rights) {
        TableCell what(to_q(r.what));
        what.sort = static_cast<double>(rights.size());
        what.icon = verdict_icon(r.licence.empty() ? Verdict::doubt : Verdict::holds);
        rights.push_back({what, to_q(r.who), to_q(r.licence)});
    }
    rights_sheet_->set_about(
        rights.empty() ? tr("Without a licence nobody may use any of it: hardware, firmware, documents.")
                       : QString(),
        true);
    rights_->set_rows(std::move(rights));
    std::vector<TableRow> lines;
    for (const auto& l : log.card) {
        TableCell kind(to_q(word(l.kind)));
        kind.sort = static_cast<double>(lines.size());
        lines.push_back({kind, to_q(l.when), to_q(l.means)});
    }
    card_sheet_->set_about(tr("Ports, stripe, what must not be on together, keys and cautions come from the "
                              "dossier; lights and steps are said here."),
                           true);
    card_->set_rows(std::move(lines));
    fill_problems();
}

void PublishView::fill_problems() {
    const auto d = document_.dossier();
    if (!said_.isEmpty()) problems_sheet_->set_about(said_, true);
    missing_.ask([d](Progress&) { return missing_in_release(d); },
                 [this](const std::vector<PackProblem>& missing) { show_problems(missing); });
}

void PublishView::show_problems(const std::vector<PackProblem>& missing) {
    std::vector<TableRow> rows;
    int stops = 0;
    for (const auto& p : missing) {
        TableCell says(to_q(p.says));
        says.icon = verdict_icon(p.verdict);
        says.sort = static_cast<double>(rows.size());
        stops += p.verdict == Verdict::stop ? 1 : 0;
        rows.push_back({says, to_q(p.todo)});
    }
    auto about = stops > 0
                     ? tr("%1 in the way of a pack.").arg(to_q(plural(stops, "thing is", "things are")))
                     : tr("A pack can be written. Whether anything private is inside is looked at then.");
    problems_sheet_->set_about(said_.isEmpty() ? about : said_, true);
    problems_->set_rows(std::move(rows));
}

QString PublishView::write_pack_to(const QString& path) {
    const auto tell = [&](const QString& text) {
        said_ = text;
        fill_problems();
        return text;
    };
    if (document_.folder().empty()) return tell(tr("Save the dossier first: the pack holds its files."));
    if (!wait_for_analysis(window(), tr("Computing what the pack says"), document_)) return {};
    Result<ReleasePack> made = fail_cancelled();
    Status written;
    const auto ran = run_with_progress(window(), tr("Writing the pack"), [&](Progress& progress) {
        const auto files = render::release_files(document_.analysis(), progress);
        if (!files) {
            made = fail(files.error());
            return;
        }
        made = make_pack(document_.dossier(), document_.folder(), *files, words_of_machine(), progress);
        if (made && made->may_go()) written = write_pack(*made, path.toStdString(), disk());
    });
    if (!ran) return tell(to_q(ran.error().message()));
    if (!made) return tell(to_q(made.error().message()));
    if (!made->may_go())
        return tell(tr("Not written: %1. %2")
                        .arg(to_q(made->problems.front().says), to_q(made->problems.front().todo)));
    return tell(written ? tr("%1 files written to %2.").arg(made->folder.files.size()).arg(path)
                        : to_q(written.error().message()));
}

QString PublishView::write_card_to(const QString& path) {
    if (!wait_for_analysis(window(), tr("Computing what the page says"), document_)) return {};
    const auto card = user_card(document_.analysis());
    if (!card) {
        said_ = to_q(card.error().message());
    } else {
        const auto written = render::write_card(*card, path.toStdString(), document_.dossier().about->name);
        said_ = written ? tr("Written to %1.").arg(path) : to_q(written.error().message());
    }
    fill_problems();
    return said_;
}

}  // namespace grayrelic::app
