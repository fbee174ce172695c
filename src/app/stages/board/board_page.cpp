// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/board_page.hpp"

#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QSignalBlocker>
#include <QStandardPaths>

#include <algorithm>
#include <set>

#include "app/paint/marks.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/file_system.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/dossier/store.hpp"
#include "core/report/paper_template.hpp"
#include "render/pdf.hpp"

namespace grayrelic::app {
namespace {

constexpr std::size_t most_pads_text = 32U << 20U;

std::string head_of_file_at(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.read(4096).toStdString() : std::string();
}

bool is_table_of_pads(const std::string& head) {
    const auto table = read_table(head.substr(0, head.find('\n')), "head", "a table");
    if (!table) return false;
    const auto keys = heading_keys(table->rows.front());
    const auto has = [&](const char* key) { return std::find(keys.begin(), keys.end(), key) != keys.end(); };
    return has("ref") && has("pin") && has("x_mm") && has("y_mm");
}

bool is_layer(const QString& path) {
    const auto head = head_of_file_at(path);
    return looks_like_gerber(head) || looks_like_drill(head);
}

}  // namespace

BoardPage::BoardPage(const StageContext& context)
    : TabbedPage(Stage::board, context.document, Rests::boards | Rests::board_analysis),
      document_(context.document),
      files_(context.files) {
    const unsigned all = Rests::boards | Rests::board_analysis | Rests::ports | Rests::trace | Rests::data;
    constexpr int scrolls_under = 440;
    files_view_ = new FabFilesView(document_);
    against_view_ = new FabAgainstView(document_);
    making_view_ = new FabMakingView(document_);
    fit_view_ = new FitView(document_);
    order_view_ = new OrderView(document_);
    fit_view_->need_board = order_view_->need_board = [this] { return need_board(); };
    order_view_->files_sent = [this]() -> std::optional<QString> {
        for (const auto& f : *document_.dossier().boards)
            if (f.id == chosen() && !(f.file.empty() && f.outside.empty()))
                if (const auto path = board_path(f, document_.folder())) return to_q(path->string());
        return std::nullopt;
    };
    const auto card = QStringLiteral("calder-page-card");
    add_view(
        {QStringLiteral("files"), tr("Files")}, files_view_, all,
        [this] { files_view_->show_board(chosen()); }, scrolls_under);
    add_view(
        {QStringLiteral("against"), tr("Held against"), Picture::day, card}, against_view_, all,
        [this] { against_view_->show_board(chosen()); }, scrolls_under);
    add_view(
        {QStringLiteral("making"), tr("Making"), Picture::night, card}, making_view_, all,
        [this] { making_view_->show_board(chosen()); }, scrolls_under);
    const unsigned fits = all | Rests::dimensions | Rests::supply | Rests::wire_analysis;
    add_view(
        {QStringLiteral("fit"), tr("Fit")}, fit_view_, fits, [this] { fit_view_->show_board(chosen()); },
        scrolls_under);
    add_view(
        {QStringLiteral("order"), tr("Order")}, order_view_, fits | Rests::person | Rests::plan,
        [this] { order_view_->show_board(chosen()); }, scrolls_under);
    boards_ = new ChoiceBox(tr("Which set of files"), tr("Which set of fabrication files"));
    connect(boards_, &QComboBox::activated, this, [this] { show_chosen(); });
    add_beside_tabs(boards_);
    auto* more = compact_button(tr("Bring files"), tr("A folder or a zip of fabrication files"));
    add_beside_tabs(more);
    auto* paper = compact_button(tr("1:1"), tr("The side in sight on paper at true size (PDF, SVG, PNG)"));
    add_beside_tabs(paper);
    connect(paper, &QPushButton::clicked, this, &BoardPage::write_template);
    ask_template = [this] {
        return QFileDialog::getSaveFileName(this, tr("The board at true size"),
                                            QStringLiteral("template.pdf"),
                                            tr("PDF (*.pdf);;SVG (*.svg);;PNG (*.png)"));
    };
    auto* drop = compact_button(tr("Take out"), tr("Takes this set out of the dossier; undo brings it back"));
    add_beside_tabs(drop);
    connect(more, &QPushButton::clicked, this, [this] { bring(ask_folder()); });
    connect(drop, &QPushButton::clicked, this, [this] {
        document_.apply(tr("take out the board's files"),
                        grayrelic::drop<Fabrication>(document_.dossier(), chosen()));
    });
    ask_folder = [this] {
        return QFileDialog::getExistingDirectory(this, tr("A folder of fabrication files"));
    };
    ask_zip = [this] {
        return QFileDialog::getOpenFileName(this, tr("A zip of fabrication files"), {},
                                            tr("Zip archives (*.zip)"));
    };
    make_empty();
    set_empty(empty_);
    refresh_page();
}

void BoardPage::make_empty() {
    empty_ = new Sheet(tr("No fabrication files yet"));
    empty_->set_about(
        tr("Bring the files that your layout program writes for the board house: a folder or a zip with "
           "Gerber layers and drill files. They are held "
           "against the ports, the circuit and what a way of making can do, before anything is ordered."),
        true);
    auto* folder = new QPushButton(tr("Bring a folder"));
    connect(folder, &QPushButton::clicked, this, [this] { bring(ask_folder()); });
    empty_->body()->addWidget(folder, 0, Qt::AlignLeft);
    auto* zip = new QPushButton(tr("Bring a zip"));
    connect(zip, &QPushButton::clicked, this, [this] { bring(ask_zip()); });
    empty_->body()->addWidget(zip, 0, Qt::AlignLeft);
    auto* begin = new QPushButton(tr("Begin with what has to fit"));
    begin->setToolTip(tr("Heights, tolerances and the house's tiers need no files yet"));
    connect(begin, &QPushButton::clicked, this, [this] {
        if (need_board().empty()) return;
        show_view(QStringLiteral("fit"));
    });
    empty_->body()->addWidget(begin, 0, Qt::AlignLeft);
    empty_->body()->addWidget(make_example_button(), 0, Qt::AlignLeft);
    empty_->body()->addStretch(1);
}

std::string BoardPage::chosen() const {
    return boards_->currentData().toString().toStdString();
}

void BoardPage::refresh_page() {
    const QSignalBlocker rest(boards_);
    const auto before = boards_->currentData();
    boards_->clear();
    for (const auto& f : *document_.dossier().boards)
        boards_->addItem(to_q(f.title.empty() ? f.id : f.title), to_q(f.id));
    boards_->setCurrentIndex(std::max(0, boards_->findData(before)));
    boards_->setVisible(boards_->count() > 1);
    show_empty(!has_content());
}

void BoardPage::show_chosen() {
    files_view_->show_board(chosen());
    against_view_->show_board(chosen());
    making_view_->show_board(chosen());
    fit_view_->show_board(chosen());
    order_view_->show_board(chosen());
}

/// A board without files, for what has to be known before the layout is drawn.
std::string BoardPage::need_board() {
    if (!document_.is_open()) files_.make_new();
    if (!document_.is_open()) return {};
    const auto& d = document_.dossier();
    if (!d.boards->empty()) return chosen().empty() ? d.boards->front().id : chosen();
    Fabrication f;
    f.id = "main";
    f.title = tr("The board").toStdString();
    document_.apply(tr("a board"), put(d, f));
    return f.id;
}

void BoardPage::write_template() {
    const auto* b = document_.analysis().board ? document_.analysis().board->find(chosen()) : nullptr;
    if (b == nullptr || b->read->no_files)
        return tell(tr("Bring the fabrication files first: the template is drawn from them."));
    TemplateWish wish;
    wish.back = files_view_->pane().canvas().back();
    wish.title = boards_->currentText().toStdString();
    const auto card = paper_template(*b->read, wish);
    if (!card) return tell(to_q(card.error().message()));
    const auto path = ask_template();
    if (path.isEmpty()) return;
    const auto written = render::write_card(*card, path.toStdString(), wish.title);
    tell(written ? QString() : to_q(written.error().message()));
}

QString BoardPage::sentence() const {
    return has_content() ? tr("Is this the board I meant, and can it be made?") : tr("Board");
}

QString BoardPage::detail() const {
    const auto& a = document_.analysis().board;
    if (!has_content() || !a) return {};
    const auto* b = a->find(chosen());
    if (b == nullptr || b->read->problem) return {};
    return tr("%1 × %2 mm").arg(b->read->size.width_mm, 0, 'f', 1).arg(b->read->size.height_mm, 0, 'f', 1);
}

QString BoardPage::rail_line() const {
    const auto& a = document_.analysis().board;
    if (document_.dossier().boards->empty()) return tr("no files yet");
    if (!a || a->boards.empty()) return tr("reading …");
    const auto& b = *a->boards.front();
    if (b.read->no_files) return tr("no files yet");
    if (b.read->problem) return tr("can't be read");
    if (b.nets.compared) return tr("%1 of %2 nets as meant").arg(b.nets.same).arg(b.nets.named);
    return tr("%1 × %2 mm").arg(b.read->size.width_mm, 0, 'f', 0).arg(b.read->size.height_mm, 0, 'f', 0);
}

bool BoardPage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::board);
}

void BoardPage::show_place(const FindingPlace& place) {
    const auto id = to_q(place.id);
    const auto board = id.section(QLatin1Char('/'), 0, 0), thing = id.section(QLatin1Char('/'), 1);
    boards_->setCurrentIndex(std::max(0, boards_->findData(board)));
    show_chosen();
    if (thing.startsWith(QStringLiteral("rule:"))) {
        show_view(QStringLiteral("making"));
        return making_view_->select_rule(thing.mid(5));
    }
    if (thing == QStringLiteral("process") || thing.startsWith(QStringLiteral("apart:")))
        return show_view(QStringLiteral("making"));
    if (thing.startsWith(QStringLiteral("fit:")) || thing.startsWith(QStringLiteral("zone:"))) {
        show_view(QStringLiteral("fit"));
        return fit_view_->select(thing);
    }
    if (thing == QStringLiteral("order")) return show_view(QStringLiteral("order"));
    if (thing.isEmpty()) return show_view(QStringLiteral("files"));
    show_view(QStringLiteral("against"));
    against_view_->select(thing);
}

QList<FileKind> BoardPage::file_kinds() const {
    return {{tr("Fabrication files, tables of pads"),
             {QStringLiteral("zip"), QStringLiteral("csv"), QStringLiteral("gbr"), QStringLiteral("drl")}}};
}

Claim BoardPage::claim(const QFileInfo& file) const {
    if (file.isDir()) {
        constexpr int most_looked_at = 200;
        int looked = 0;
        for (const auto& inside : QDir(file.filePath()).entryInfoList(QDir::Files | QDir::NoDotAndDotDot))
            if (++looked > most_looked_at)
                break;
            else if (is_layer(inside.filePath()))
                return Claim::by_content;
        return Claim::none;
    }
    const auto ending = file.suffix().toLower();
    if (ending == QStringLiteral("zip"))
        return head_of_file_at(file.filePath()).starts_with("PK") ? Claim::by_content : Claim::none;
    if (ending == QStringLiteral("csv"))
        return is_table_of_pads(head_of_file_at(file.filePath())) ||
                       looks_like_placements(head_of_file_at(file.filePath()))
                   ? Claim::by_content
                   : Claim::none;
    return is_layer(file.filePath()) ? Claim::by_content : Claim::none;
}

void BoardPage::take(const QString& path) {
    const QFileInfo file(path);
    if (file.suffix().toLower() == QStringLiteral("csv")) return take_pads(path);
    // One layer alone: its folder has the others.
    if (!file.isDir() && file.suffix().toLower() != QStringLiteral("zip")) return bring(file.absolutePath());
    bring(path);
}

/// A folder is packed, so that the dossier holds one file; nothing of it is changed.
void BoardPage::bring(const QString& path) {
    if (path.isEmpty()) return;
    const QFileInfo info(path);
    QString zip = info.absoluteFilePath();
    if (info.isDir()) {
        Status packed;
        const auto folder =
            QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/boards");
        zip = folder + QLatin1Char('/') + info.fileName() + QStringLiteral(".zip");
        const auto ran =
            run_with_progress(this, tr("Packing the fabrication files"), [&](Progress& progress) {
                const auto files = read_packed(path.toStdString(), progress);
                if (!files) return void(packed = fail(files.error()));
                if (files->files.empty())
                    return void(packed = fail_system(path.toStdString(), "no file", "fabrication files"));
                const auto bytes = pack(*files);
                if (!bytes) return void(packed = fail(bytes.error()));
                QDir().mkpath(folder);
                packed = write_atomically(disk(), zip.toStdString(), *bytes);
            });
        if (!ran) packed = ran;
        if (!packed)
            return packed.error().kind == Error::Kind::cancelled ? void()
                                                                 : tell(to_q(packed.error().message()));
    }
    if (!document_.is_open()) files_.make_new();
    if (!document_.is_open()) return;
    const auto& d = document_.dossier();
    Fabrication f;
    f.id = free_id<Fabrication>(d, info.completeBaseName().toStdString());
    f.title = info.completeBaseName().toStdString();
    f.outside = zip.toStdString();
    const auto id = to_q(f.id);
    document_.apply(tr("bring the fabrication files %1").arg(info.fileName()), put(d, std::move(f)));
    boards_->setCurrentIndex(std::max(0, boards_->findData(id)));
    show_view(QStringLiteral("files"));
    show_chosen();
}

void BoardPage::take_pads(const QString& path) {
    if (!has_content())
        return tell(tr("Bring the fabrication files first; the table of pads belongs to them."));
    const auto text = disk().read(path.toStdString(), most_pads_text);
    if (!text) return tell(to_q(text.error().message()));
    if (looks_like_placements(*text)) return take_placements(path, *text);
    const auto pads = read_pads(*text, QFileInfo(path).fileName().toStdString());
    if (!pads) return tell(to_q(pads.error().message()));
    std::vector<FabPad> list;
    for (const auto& p : *pads) list.push_back(fab_pad_of(p));
    document_.apply(tr("pads from %1").arg(QFileInfo(path).fileName()),
                    edit<Fabrication>(document_.dossier(), chosen(), [&](Fabrication& f) { f.pads = list; }));
    show_view(QStringLiteral("against"));
    tell({});
}

/// Where the table puts parts, and their packages are known, their pads are looked for.
void BoardPage::take_placements(const QString& path, const std::string& text) {
    const auto name = QFileInfo(path).fileName();
    const auto placements = read_placements(text, name.toStdString());
    if (!placements) return tell(to_q(placements.error().message()));
    const auto* board = document_.analysis().board ? document_.analysis().board->find(chosen()) : nullptr;
    if (board == nullptr || !board->read->copper)
        return tell(tr("The fabrication files are not read yet; bring the table again in a moment."));
    std::vector<PlacedPart> parts;
    const auto read = board->read;
    const auto ran = run_with_progress(this, tr("Finding the parts' pads"), [&](Progress&) {
        parts = place_parts(read->lands, *placements, board->patterns);
    });
    if (!ran) return;
    std::vector<FabPad> pads;
    std::set<std::string> found;
    QStringList problems;
    for (const auto& p : parts) {
        for (const auto& pad : p.pads) pads.push_back(fab_pad_of(pad));
        if (!p.pads.empty()) found.insert(p.placement.ref);
        if (!p.problem.empty()) problems << to_q(p.placement.ref) + QStringLiteral(": ") + to_q(p.problem);
    }
    if (!pads.empty())
        document_.apply(tr("parts from %1").arg(name),
                        edit<Fabrication>(document_.dossier(), chosen(), [&](Fabrication& f) {
                            std::erase_if(f.pads, [&](const FabPad& p) { return found.count(p.ref) != 0; });
                            f.pads.insert(f.pads.end(), pads.begin(), pads.end());
                        }));
    show_view(QStringLiteral("against"));
    constexpr int most_said = 12;
    const auto more = problems.size() - most_said;
    if (more > 0) problems = problems.mid(0, most_said) << tr("and %1 more").arg(more);
    tell(problems.isEmpty() ? QString()
                            : tr("%1 of %2 parts placed.\n%3")
                                  .arg(found.size())
                                  .arg(parts.size())
                                  .arg(problems.join(QLatin1Char('\n'))));
}

}  // namespace grayrelic::app
