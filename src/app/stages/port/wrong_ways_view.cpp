// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/wrong_ways_view.hpp"

#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <cmath>

#include "app/paint/drawing_paint.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/edits.hpp"
#include "core/port/cable.hpp"

namespace grayrelic::app {
namespace {

QString possible_words(Possible p) {
    switch (p) {
        case Possible::easy: return WrongWaysView::tr("nothing prevents it");
        case Possible::forced: return WrongWaysView::tr("with force");
        case Possible::by_hand: return WrongWaysView::tr("by wiring");
        case Possible::prevented: break;
    }
    return WrongWaysView::tr("the key prevents it");
}

QString bricks_key() {
    return QStringLiteral("the usual supplies");
}

QLabel* wrapped_label(int pixels = 12) {
    auto* l = new QLabel;
    l->setFont(text_font(pixels));
    l->setWordWrap(true);
    l->setAlignment(Qt::AlignTop);
    l->setTextFormat(Qt::PlainText);
    l->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return l;
}

}  // namespace

/// The socket's face as it stands, and over it the plug's, moved; pairs that meet are marked by verdict.
class WrongWaysView::Overlay : public QWidget {
  public:
    explicit Overlay(WrongWaysView& view) : view_(view) {
        setMinimumSize(220, 150);
        setAccessibleName(tr("Both faces laid over each other"));
    }
    int shown = -1;

  protected:
    void paintEvent(QPaintEvent*) override {
        if (view_.socket_ && !view_.bricks_.empty()) return paint_brick();
        if (!view_.socket_ || shown < 0 || shown >= static_cast<int>(view_.cases_.size())) return;
        const auto& c = view_.cases_[static_cast<std::size_t>(shown)];
        Drawing d;
        const auto face = fit_face(*view_.socket_, Viewpoint::into_socket,
                                   to_rect(QRectF(rect()).adjusted(40, 30, -40, -30)));
        add_outlines(d, face);
        // The plug's outlines and contacts at the places they come to.
        auto lifted = *view_.plug_;
        for (auto& o : lifted.outlines) {
            o.middle = moved(o.middle, c.motion);
            for (auto& point : o.points) point = moved(point, c.motion);
        }
        for (auto& x : lifted.contacts) {
            const auto at = moved(x.place(), c.motion);
            x.x_mm = at.x_mm;
            x.y_mm = at.y_mm;
        }
        FaceFit over = face;
        over.connector = &lifted;
        add_outlines(d, over, Ink::bridge);
        const auto& numbers = view_.socket_->numbering(view_.socket_port_.numbering).numbers;
        for (std::size_t i = 0; i < view_.socket_->contacts.size(); ++i) {
            const auto* pin = view_.socket_port_.find_pin(numbers[i]);
            const auto [x, y] = face.at(i);
            const double r = face.radius(i);
            d.circles.push_back({x, y, r, Ink::sheet, true});
            d.circles.push_back(
                {x, y, r, pin == nullptr ? Ink::hairline : driver_ink(pin->driver.value), false, 2});
            if (r >= 7)
                d.texts.push_back(
                    {x, y - r - 4, numbers[i], Ink::ink2, Drawing::Anchor::middle, 9, false, true});
        }
        for (std::size_t i = 0; i < lifted.contacts.size(); ++i) {
            const auto* pin =
                view_.plug_port_.find_pin(view_.plug_->numbering(view_.plug_port_.numbering).numbers[i]);
            const auto [x, y] = over.at(i);
            const double r = face.radius(std::min(i, view_.socket_->contacts.size() - 1)) * 0.55;
            if (pin != nullptr && !pin->name.value.empty())
                d.circles.push_back({x, y, r, driver_ink(pin->driver.value), true});
            d.circles.push_back({x, y, r, Ink::bridge, false, 1});
        }
        for (const auto& x : c.collisions)
            if (x.verdict != Verdict::holds) {
                const auto at = face.at(x.socket_contact);
                d.circles.push_back({at.x, at.y, 7, Ink::sheet, true});
                d.marks.push_back({at.x, at.y, x.verdict});
            }
        QPainter p(this);
        paint_drawing(p, d);
    }

  private:
    /// The jack's face, and at each contact what the supply puts there.
    void paint_brick() {
        const auto row = view_.list_->currentRow();
        if (row < 0 || row >= static_cast<int>(view_.bricks_.size())) return;
        const auto& b = view_.bricks_[static_cast<std::size_t>(row)];
        Drawing d;
        const auto face = fit_face(*view_.socket_, Viewpoint::into_socket,
                                   to_rect(QRectF(rect()).adjusted(40, 30, -220, -30)));
        add_outlines(d, face);
        const auto& numbers = view_.socket_->numbering(view_.socket_port_.numbering).numbers;
        for (std::size_t i = 0; i < std::min<std::size_t>(2, view_.socket_->contacts.size()); ++i) {
            const auto* pin = view_.socket_port_.find_pin(numbers[i]);
            const auto ink = pin == nullptr ? Ink::hairline : driver_ink(pin->driver.value);
            const auto middle = face.at(0), from = face.at(i);
            const double r = i == 0 ? face.radius(0) : std::hypot(from.x - middle.x, from.y - middle.y);
            if (i == 0) d.circles.push_back({middle.x, middle.y, r, Ink::sheet, true});
            d.circles.push_back({middle.x, middle.y, r, ink, false, 2});
            const bool plus = (i == 0) == (b.brick.volts > 0);
            const auto gives = b.brick.alternating ? QStringLiteral("~")
                               : plus              ? QStringLiteral("+")
                                                   : QStringLiteral("\u2212");
            const QPointF to(rect().right() - 200, rect().center().y() + (i == 0 ? -28 : 28));
            d.lines.push_back({from.x, from.y, to.x(), to.y(), Ink::bridge});
            d.texts.push_back({to.x() + 4, to.y() + 4,
                               WrongWaysView::tr("%1 meets %2")
                                   .arg(gives, pin == nullptr ? to_q(numbers[i]) : to_q(pin->name.value))
                                   .toStdString(),
                               Ink::ink, Drawing::Anchor::start, 13, true});
        }
        QPainter p(this);
        paint_drawing(p, d);
    }

    WrongWaysView& view_;
};

WrongWaysView::WrongWaysView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    auto* left = new QVBoxLayout;
    left->setSpacing(12);
    auto* cases = new Sheet(tr("Ways it can go wrong"));
    auto* nearby = new QPushButton(tr("Nearby"));
    nearby->setToolTip(tr("What is dangerous near this port"));
    nearby->setProperty("menu", true);
    nearby_ = new QMenu(nearby);
    for (const auto& [word, text] : {std::pair{"mains", tr("Mains in the case")},
                                     {"tube", tr("A picture tube")},
                                     {"lithium", tr("A lithium cell")},
                                     {"charged", tr("Charged capacitors")}}) {
        auto* action = nearby_->addAction(text);
        action->setCheckable(true);
        action->setData(QString::fromLatin1(word));
        connect(action, &QAction::triggered, this, &WrongWaysView::set_nearby);
    }
    nearby->setMenu(nearby_);
    cases->add_to_title(nearby);
    against_ = new QComboBox;
    against_->setAccessibleName(tr("What is plugged in"));
    against_->setToolTip(tr("What is plugged into this port"));
    cases->body()->addWidget(against_);
    list_ = new QListWidget;
    list_->setAccessibleName(tr("Cases"));
    list_->setWordWrap(true);
    cases->body()->addWidget(list_, 1);
    left->addWidget(cases, 3);
    cautions_ = new CautionBox(tr("Before you plug"));
    left->addWidget(cautions_, 2);
    row->addLayout(left, 4);
    auto* right = new QVBoxLayout;
    right->setSpacing(12);
    drawing_ = new Sheet(QString());
    overlay_ = new Overlay(*this);
    drawing_->body()->addWidget(overlay_, 1);
    right->addWidget(drawing_, 3);
    auto* meets = new Sheet(tr("What meets"));
    auto* inside = new QWidget;
    auto* lines = new QVBoxLayout(inside);
    lines->setContentsMargins(0, 0, 0, 0);
    text_ = wrapped_label();
    remedy_ = wrapped_label();
    lines->addWidget(text_);
    lines->addSpacing(8);
    lines->addWidget(remedy_);
    lines->addStretch(1);
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setWidget(inside);
    meets->body()->addWidget(area, 1);
    right->addWidget(meets, 3);
    row->addLayout(right, 5);
    connect(list_, &QListWidget::currentRowChanged, this, &WrongWaysView::show_case);
    connect(against_, &QComboBox::activated, this, &WrongWaysView::refresh);
}

void WrongWaysView::show_port(const QString& id) {
    const auto before = against_->currentData().toString();
    port_ = id;
    const QSignalBlocker block(against_);
    against_->clear();
    against_->addItem(tr("its own plug"), id);
    for (const auto& p : *document_.dossier().ports)
        if (to_q(p.id) != id)
            against_->addItem(tr("the plug of %1 %2").arg(to_q(p.id), to_q(p.name)), to_q(p.id));
    if (const auto* port = document_.dossier().find_port(id.toStdString())) {
        const auto& library = document_.data();
        const auto connector = library.connectors.find(port->connector);
        if (connector && !try_bricks(*port, *connector, library.supplies, library.families).empty())
            against_->addItem(tr("the usual supplies with that plug"), bricks_key());
    }
    against_->setCurrentIndex(std::max(0, against_->findData(before)));
    refresh();
}

void WrongWaysView::set_nearby() {
    const auto* port = document_.dossier().find_port(port_.toStdString());
    if (port == nullptr) return;
    Port changed = *port;
    changed.nearby.clear();
    for (const auto* action : nearby_->actions())
        if (action->isChecked()) changed.nearby.push_back(action->data().toString().toStdString());
    document_.apply(tr("what is nearby"), put(document_.dossier(), std::move(changed)));
}

void WrongWaysView::refresh() {
    const auto* port = document_.dossier().find_port(port_.toStdString());
    const int before = list_->currentRow();
    cases_.clear();
    list_->clear();
    socket_.reset();
    plug_.reset();
    if (port == nullptr) return;
    for (auto* action : nearby_->actions()) {
        const auto word = action->data().toString().toStdString();
        action->setChecked(std::find(port->nearby.begin(), port->nearby.end(), word) != port->nearby.end());
    }
    const auto& library = document_.data();
    cautions_->show_cautions(
        cautions_for(library.cautions, library.families, document_.dossier(), Stage::port, "plug", port));
    const auto* other = document_.dossier().find_port(against_->currentData().toString().toStdString());
    // What cables tell of the contacts counts too.
    socket_port_ = known_through_cables(*port, document_.dossier(), library.connectors);
    plug_port_ = other == nullptr || other->id == port->id
                     ? socket_port_
                     : known_through_cables(*other, document_.dossier(), library.connectors);
    bricks_.clear();
    auto socket = library.connectors.find(socket_port_.connector);
    auto plug = library.connectors.find(plug_port_.connector);
    if (!socket || !plug) {
        drawing_->set_title(tr("No drawing"));
        text_->setText(to_q((socket ? plug : socket).error().message()));
        remedy_->clear();
        return;
    }
    socket_ = std::move(*socket);
    plug_ = std::move(*plug);
    if (against_->currentData().toString() == bricks_key()) return show_bricks(before);
    text_->setText(tr("Trying every way to plug it …"));
    remedy_->clear();
    struct Ports {
        Port socket, plug;
        Connector socket_face, plug_face;
    };
    // The cases point into these.
    const auto ports = std::make_shared<const Ports>(Ports{socket_port_, plug_port_, *socket_, *plug_});
    trying_.ask(
        [ports, all = document_.shared_data()](Progress&) {
            const Face s{&ports->socket_face, ports->socket.numbering, &ports->socket.pins,
                         ports->socket.side};
            const Face o{&ports->plug_face, ports->plug.numbering, &ports->plug.pins, ports->plug.side};
            const Face& p = ports->plug.id == ports->socket.id ? s : o;
            Tried tried;
            tried.owner = ports;
            tried.cases = wrong_cases(s, p, all->families);
            tried.help = remedies(s, p, all->families, tried.cases, ports->socket.side == Side::modern);
            return tried;
        },
        [this, before, asked = ++asked_](const Tried& tried) {
            if (asked == asked_) show_tried(tried, before);
        });
}

void WrongWaysView::show_tried(const Tried& tried, int before) {
    ways_of_ = tried.owner;
    cases_ = tried.cases;
    for (const auto& c : cases_) {
        list_->addItem(new QListWidgetItem(verdict_icon(c.verdict),
                                           tr("%1 · %2").arg(to_q(c.says), possible_words(c.possible))));
    }
    QStringList help;
    for (const auto& r : tried.help) help << to_q(r.says);
    remedy_->setText(help.join(QStringLiteral("\n\n")));
    if (cases_.empty()) {
        drawing_->set_title(tr("No wrong way"));
        text_->setText(tr("Turned, mirrored or shifted, none of its contacts meets another."));
    }
    list_->setCurrentRow(std::clamp(before, 0, std::max(0, static_cast<int>(cases_.size()) - 1)));
    show_case();
}

void WrongWaysView::show_bricks(int before) {
    ++asked_;  // what is still being tried is not wanted any more
    bricks_ = try_bricks(socket_port_, *socket_, document_.data().supplies, document_.data().families);
    for (const auto& b : bricks_)
        list_->addItem(new QListWidgetItem(
            verdict_icon(b.verdict),
            b.meant ? tr("%1 · what the jack wants").arg(to_q(b.brick.name)) : to_q(b.brick.name)));
    remedy_->clear();
    list_->setCurrentRow(std::clamp(before, 0, std::max(0, static_cast<int>(bricks_.size()) - 1)));
    show_case();
}

void WrongWaysView::show_brick() {
    const auto row = list_->currentRow();
    if (row < 0 || row >= static_cast<int>(bricks_.size())) return;
    const auto& b = bricks_[static_cast<std::size_t>(row)];
    drawing_->set_title(to_q(b.brick.name));
    drawing_->set_about(b.brick.alternating ? tr("its middle is positive and negative in turn")
                        : b.brick.volts > 0 ? tr("its middle is positive, its sleeve negative")
                                            : tr("its middle is negative, its sleeve positive"),
                        true);
    text_->setText(to_q(b.says));
    remedy_->setText(
        b.unprotected == b.verdict
            ? tr("With or without the protection that is recorded at this port.")
            : tr("Without what protects the port it would be: %1.").arg(to_q(word(b.unprotected))));
}

void WrongWaysView::show_case() {
    if (!bricks_.empty()) {
        overlay_->shown = -1;
        overlay_->update();
        show_brick();
        return;
    }
    overlay_->shown = list_->currentRow();
    overlay_->update();
    if (overlay_->shown < 0 || overlay_->shown >= static_cast<int>(cases_.size())) return;
    const auto& c = cases_[static_cast<std::size_t>(overlay_->shown)];
    drawing_->set_title(to_q(c.says));
    drawing_->set_about(
        tr("the socket's face, and over it the plug's in dashed blue · %1 of %2 contacts meet")
            .arg(c.landed)
            .arg(plug_->contacts.size()),
        true);
    QStringList lines;
    if (!c.why_possible.empty()) lines << tr("It can happen: %1.").arg(to_q(c.why_possible));
    const auto& numbers = socket_->numbering(socket_port_.numbering).numbers;
    for (const auto& f : c.faults) {
        QStringList at;
        for (const auto t : f.touches) at << to_q(numbers[c.touches[t].socket]);
        lines
            << tr("%1 · at %2 · %3").arg(to_q(word(f.verdict)), at.join(QStringLiteral(", ")), to_q(f.says));
    }
    if (lines.isEmpty() || c.verdict == Verdict::holds) lines << tr("Nothing that meets is harmed.");
    text_->setText(lines.join(QStringLiteral("\n\n")));
}

}  // namespace grayrelic::app
