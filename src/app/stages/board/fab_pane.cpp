// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/fab_pane.hpp"

#include <QHBoxLayout>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/fab_figure.hpp"

namespace grayrelic::app {

FabPane::FabPane(Document& document, QWidget* parent) : Sheet(tr("The board"), parent), document_(document) {
    front_ = compact_button(tr("Front"), tr("The front, as one looks at it"));
    back_ = compact_button(tr("Back"), tr("The back, as one looks at it: the mirror image of the files"));
    auto* group = new QButtonGroup(this);
    for (auto* b : {front_, back_}) {
        b->setCheckable(true);
        group->addButton(b);
        add_to_title(b);
    }
    front_->setChecked(true);
    auto* whole = compact_button(tr("All of it"), tr("Fits the board into the sheet (F)"));
    add_to_title(whole);
    canvas_ = new FabCanvas;
    body()->addWidget(canvas_, 1);
    connect(front_, &QPushButton::clicked, this, [this] { show_side(false); });
    connect(back_, &QPushButton::clicked, this, [this] { show_side(true); });
    connect(whole, &QPushButton::clicked, canvas_, &FabCanvas::fit);
    connect(canvas_, &FabCanvas::pointed, this, [this](const QString& says) { set_about(says); });
    connect(canvas_, &FabCanvas::measured, this, [this](double dx, double dy) {
        set_about(tr("%1 mm across, %2 mm up, %3 mm straight")
                      .arg(dx, 0, 'f', 3)
                      .arg(dy, 0, 'f', 3)
                      .arg(std::hypot(dx, dy), 0, 'f', 3));
    });
    say_resting();
}

void FabPane::say_resting() {
    set_about(tr("Point at copper, click for its net, drag to measure"));
}

void FabPane::allow_naming() {
    auto* row = new QHBoxLayout;
    naming_title_ = new QLabel(tr("Click a pad to name it"));
    naming_title_->setFont(text_font(12));
    naming_ = new Field;
    naming_->setAccessibleName(tr("What the pad is"));
    naming_->setPlaceholderText(tr("J1.1, or J1.1 dsub-9"));
    naming_->setToolTip(tr(
        "The part and its contact, such as J1.1; for a connector that nothing tells of, its kind behind it: "
        "J1.1 dsub-9. The part's other contacts are found by the pattern of its pads."));
    naming_->setEnabled(false);
    naming_->commit = [this](const QString& text) { return name_pad(text.trimmed()); };
    row->addWidget(naming_title_);
    row->addWidget(naming_, 1);
    body()->addLayout(row);
    connect(canvas_, &FabCanvas::place_picked, this, [this](BoardXY at) {
        picked_ = at;
        naming_->setEnabled(true);
        naming_title_->setText(
            tr("The pad at %1, %2 mm is").arg(to_mm(at.x), 0, 'f', 2).arg(to_mm(at.y), 0, 'f', 2));
    });
}

std::optional<QString> FabPane::name_pad(const QString& text) {
    if (text.isEmpty() || !picked_ || !board_) return std::nullopt;
    const auto kind = text.section(QLatin1Char(' '), 1).trimmed();
    const auto point = text.section(QLatin1Char(' '), 0, 0);
    const auto dot = point.lastIndexOf(QLatin1Char('.'));
    if (dot < 1 || dot + 1 >= point.size()) return tr("a part and its contact, such as J1.1");
    BoardPad pad{point.left(dot).toStdString(), point.mid(dot + 1).toStdString(), *picked_};
    std::optional<PadPattern> pattern;
    if (const auto it = board_->patterns.find(pad.ref); it != board_->patterns.end()) pattern = it->second;
    if (!kind.isEmpty()) {
        const auto& data = document_.analysis().data;
        if (!data) return std::nullopt;
        const auto connector = data->connectors.find(kind.toStdString());
        if (!connector) return to_q(connector.error().message());
        const auto made = pattern_of(*connector, FaceGender::socket);
        if (!made) return to_q(made.error().message());
        pattern = *made;
    }
    const auto& d = document_.dossier();
    const auto now = std::find_if(d.boards->begin(), d.boards->end(),
                                  [&](const Fabrication& f) { return f.id == board_->id; });
    if (now == d.boards->end()) return std::nullopt;
    const auto found =
        pads_from_pointing(board_->read->lands, pattern ? &*pattern : nullptr, pad, pads_of_dossier(*now));
    if (found.pads.empty()) return to_q(found.says);
    document_.apply(tr("name the pad %1").arg(point), edit<Fabrication>(d, board_->id, [&](Fabrication& f) {
                        std::erase_if(f.pads, [&](const FabPad& p) { return p.ref == pad.ref; });
                        for (const auto& p : found.pads) f.pads.push_back(fab_pad_of(p));
                        if (!kind.isEmpty() && f.find_connector(pad.ref) == nullptr) {
                            FabConnector c;
                            c.ref = pad.ref;
                            c.connector = kind.toStdString();
                            f.connectors.push_back(c);
                        }
                    }));
    set_about(to_q(found.says));
    naming_->show_value({});
    return std::nullopt;
}

void FabPane::show_board(const std::string& id) {
    board_ = nullptr;
    if (const auto& a = document_.analysis().board)
        for (const auto& b : a->boards)
            if (b->id == id) board_ = b;
    canvas_->show_board(board_, board_ ? std::make_shared<const std::vector<Driver>>(
                                             drivers_of_nets(*board_, document_.dossier()))
                                       : nullptr);
}

void FabPane::show_side(bool back) {
    (back ? back_ : front_)->setChecked(true);
    canvas_->show_side(back);
}

}  // namespace grayrelic::app
