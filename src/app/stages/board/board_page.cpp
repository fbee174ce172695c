// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/board_page.hpp"

#include <QFileDialog>
#include <QSignalBlocker>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/dossier/store.hpp"
#include "core/report/paper_template.hpp"
#include "render/pdf.hpp"

namespace grayrelic::app {

BoardPage::BoardPage(const StageContext& context)
    : TabbedPage(Stage::board, context.document, Rests::boards | Rests::stacks | Rests::board_analysis),
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
        {QStringLiteral("making"), tr("Making")}, making_view_, all,
        [this] { making_view_->show_board(chosen()); }, scrolls_under);
    const unsigned fits = all | Rests::dimensions | Rests::supply | Rests::wire_analysis;
    add_view(
        {QStringLiteral("fit"), tr("Fit")}, fit_view_, fits, [this] { fit_view_->show_board(chosen()); },
        scrolls_under);
    add_view(
        {QStringLiteral("order"), tr("Order")}, order_view_, fits | Rests::person | Rests::plan,
        [this] { order_view_->show_board(chosen()); }, scrolls_under);
    stack_view_ = new StackView(document_);
    stack_view_->need_board = [this] { return need_board(); };
    add_view(
        {QStringLiteral("together"), tr("Together"), Picture::night, QStringLiteral("calder-sound-tile")},
        stack_view_, fits | Rests::stacks, [this] { stack_view_->show_board(chosen()); }, scrolls_under);
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
    stack_view_->show_board(chosen());
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
    if (place.kind == "stack") {
        show_view(QStringLiteral("together"));
        return stack_view_->select(id);
    }
    const auto board = id.section(QLatin1Char('/'), 0, 0), thing = id.section(QLatin1Char('/'), 1);
    boards_->setCurrentIndex(std::max(0, boards_->findData(board)));
    show_chosen();
    if (thing.startsWith(QStringLiteral("rule:"))) {
        show_view(QStringLiteral("making"));
        return making_view_->select_rule(thing.mid(5));
    }
    if (thing == QStringLiteral("process") || thing.startsWith(QStringLiteral("apart:")))
        return show_view(QStringLiteral("making"));
    if (thing.startsWith(QStringLiteral("solder:"))) {
        show_view(QStringLiteral("order"));
        return order_view_->select(thing);
    }
    if (thing.startsWith(QStringLiteral("fit:")) || thing.startsWith(QStringLiteral("zone:")) ||
        thing.startsWith(QStringLiteral("case:"))) {
        show_view(QStringLiteral("fit"));
        return fit_view_->select(thing);
    }
    if (thing == QStringLiteral("order")) return show_view(QStringLiteral("order"));
    if (thing.isEmpty()) return show_view(QStringLiteral("files"));
    show_view(QStringLiteral("against"));
    against_view_->select(thing);
}

}  // namespace grayrelic::app
