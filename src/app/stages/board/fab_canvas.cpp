// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/fab_canvas.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QtConcurrentRun>

#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {
namespace {

constexpr double margin_share = 0.05, least_drag = 4;

}  // namespace

FabCanvas::FabCanvas(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("The board as it lies on the table"));
    setToolTip(tr(
        "Point: what lies there. Click: its net. Drag: measure. Wheel pans, Ctrl+wheel zooms, F shows all"));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    plane_.set_limits(0.2, 4000);
    view_.drivers = std::make_shared<const std::vector<Driver>>();
    add_plane_keys(this, tr("Board"), {&plane_, [this] { moved(); }, [this] { fit(); }});
    soon_.setSingleShot(true);
    soon_.setInterval(20);
    connect(&soon_, &QTimer::timeout, this, &FabCanvas::paint_again);
    connect(&watcher_, &QFutureWatcher<QImage>::finished, this, [this] {
        if (watcher_.isCanceled()) return;
        const auto made = watcher_.result();
        if (!made.isNull()) {
            picture_ = made;
            of_picture_ = being_painted_;
        }
        if (!(of_picture_ == view_)) soon_.start();
        update();
    });
}

FabCanvas::~FabCanvas() {
    if (progress_) progress_->cancel();
    watcher_.waitForFinished();
}

void FabCanvas::show_board(std::shared_ptr<const FabricationAnalysis> board,
                           std::shared_ptr<const std::vector<Driver>> drivers) {
    const bool other = !view_.board || !board || view_.board->read != board->read;
    view_.board = std::move(board);
    view_.drivers = drivers ? std::move(drivers) : std::make_shared<const std::vector<Driver>>();
    if (other) {
        view_.net = -1;
        picture_ = QImage();
        fit();
    }
    moved();
}

void FabCanvas::show_side(bool back) {
    if (view_.back == back) return;
    view_.back = back;
    picture_ = QImage();
    fit();
}

void FabCanvas::set_marks(std::vector<FabMark> marks) {
    marks_ = std::move(marks);
    update();
}

void FabCanvas::choose_mark(const QString& key) {
    chosen_ = key;
    update();
}

void FabCanvas::show_net(int net) {
    view_.net = net;
    moved();
}

void FabCanvas::look_at(BoardXY at) {
    const QPointF plane(view_.back ? -to_mm(at.x) : to_mm(at.x), -to_mm(at.y));
    const double scale = std::max(plane_.scale(), 20.0);
    plane_.set(scale, QPointF(width() / 2.0, height() / 2.0) - plane * scale);
    moved();
}

void FabCanvas::fit() {
    if (!view_.board) return;
    const auto all = plane_of(*view_.board, view_.back);
    if (!all.isEmpty()) plane_.fit(all, QSizeF(size()), margin_share * std::max(all.width(), all.height()));
    fitted_ = true;
    moved();
}

void FabCanvas::moved() {
    view_.scale = plane_.scale();
    view_.origin = plane_.origin();
    view_.size = size();
    view_.ratio = devicePixelRatioF();
    view_.dark = theme().dark;
    update();
    if (isVisible() && !(of_picture_ == view_)) soon_.start();
}

void FabCanvas::paint_again() {
    if (!isVisible() || !view_.board || of_picture_ == view_) return;
    if (watcher_.isRunning()) {
        // What is being painted is out of date: the next one begins when it has ended.
        if (progress_ && !(being_painted_ == view_)) progress_->cancel();
        return;
    }
    progress_ = std::make_shared<Progress>();
    being_painted_ = view_;
    watcher_.setFuture(QtConcurrent::run([view = view_, colours = theme(), progress = progress_] {
        return paint_fabrication(view, colours, *progress);
    }));
}

BoardXY FabCanvas::to_board(QPointF at) const {
    const auto p = plane_.to_plane(at);
    return {from_mm(view_.back ? -p.x() : p.x()), from_mm(-p.y())};
}

std::size_t FabCanvas::near_layer() const {
    const auto& layers = view_.board->read->copper->layers;
    const auto near = view_.back ? FileRole::copper_bottom : FileRole::copper_top;
    for (std::size_t l = 0; l < layers.size(); ++l)
        if (layers[l].role == near) return l;
    return layers.size();
}

QString FabCanvas::said_of(QPointF at) const {
    if (!view_.board || !view_.board->read->copper) return {};
    const auto p = to_board(at);
    QString out = QStringLiteral("%1, %2 mm").arg(to_mm(p.x), 0, 'f', 2).arg(to_mm(p.y), 0, 'f', 2);
    for (const auto& h : view_.board->read->copper->holes)
        if (distance(p, h.hole.middle()) <= h.hole.diameter / 2)
            out += (h.hole.plated ? tr(" · plated hole %1 mm") : tr(" · hole %1 mm, not plated"))
                       .arg(h.hole.diameter / 1e6, 0, 'f', 2);
    if (const auto l = near_layer(); l < view_.board->read->copper->layers.size())
        if (const auto net = view_.board->net_at(p, l); !net.empty())
            out += QStringLiteral(" · ") + to_q(net);
    for (const auto& pad : view_.board->pads)
        if (distance(p, pad.at) < 0.5e6) {
            out += QStringLiteral(" · ") + to_q(pad.point());
            break;
        }
    return out;
}

void FabCanvas::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().sheet);
    if (!view_.board) return;
    if (!picture_.isNull()) {
        if (of_picture_.scale == view_.scale && of_picture_.back == view_.back) {
            p.drawImage(view_.origin - of_picture_.origin, picture_);
        } else if (of_picture_.back == view_.back) {
            const double k = view_.scale / of_picture_.scale;
            p.drawImage(QRectF(view_.origin - of_picture_.origin * k, QSizeF(of_picture_.size) * k),
                        picture_);
        }
    }
    p.setRenderHint(QPainter::Antialiasing);
    for (const auto& m : marks_) {
        const auto at = view_.to_view(m.at);
        if (!QRectF(rect()).adjusted(-10, -10, 10, 10).contains(at)) continue;
        if (m.key == chosen_) {
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(theme().ink, 2));
            p.drawEllipse(at, 12, 12);
        }
        p.setPen(Qt::NoPen);
        p.setBrush(theme().sheet);
        p.drawEllipse(at, 8, 8);
        draw_verdict(p, at, m.verdict);
    }
    if (dragging_) {
        p.setPen(QPen(theme().ink, 1.5, Qt::DashLine));
        p.drawLine(press_, last_);
    }
    // How long a millimetre is: a bar of a round length.
    const double wanted = 90 / view_.scale;
    const double power = std::pow(10.0, std::floor(std::log10(wanted)));
    const double length = wanted / power >= 5 ? 5 * power : wanted / power >= 2 ? 2 * power : power;
    const QRectF bar(12, height() - 16, length * view_.scale, 4);
    p.fillRect(bar, theme().ink2);
    p.setPen(theme().ink2);
    p.setFont(figure_font(11));
    p.drawText(QPointF(bar.right() + 6, bar.bottom() + 2), tr("%1 mm").arg(length));
}

void FabCanvas::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (view_.board && (event->oldSize().isEmpty() || fitted_))
        fit();
    else
        moved();
}

void FabCanvas::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    moved();
}

void FabCanvas::changeEvent(QEvent* event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange || event->type() == QEvent::StyleChange) moved();
}

void FabCanvas::mousePressEvent(QMouseEvent* event) {
    press_ = last_ = event->position();
    if (event->button() == Qt::MiddleButton) panning_ = true;
    if (event->button() == Qt::LeftButton) dragging_ = true;
}

void FabCanvas::mouseMoveEvent(QMouseEvent* event) {
    const auto at = event->position();
    if (panning_) {
        plane_.pan(at - last_);
        fitted_ = false;
        last_ = at;
        return moved();
    }
    last_ = at;
    Q_EMIT pointed(said_of(at));
    if (dragging_) {
        const auto a = to_board(press_), b = to_board(at);
        if (QLineF(press_, at).length() > least_drag) Q_EMIT measured(to_mm(b.x - a.x), to_mm(b.y - a.y));
        update();
    }
}

void FabCanvas::mouseReleaseEvent(QMouseEvent* event) {
    const bool clicked = dragging_ && QLineF(press_, event->position()).length() <= least_drag;
    dragging_ = panning_ = false;
    update();
    if (!clicked || !view_.board) return;
    for (const auto& m : marks_)
        if (QLineF(view_.to_view(m.at), event->position()).length() < 9) {
            Q_EMIT mark_picked(m.key);
            return;
        }
    if (!view_.board->read->copper) return;
    Q_EMIT place_picked(to_board(event->position()));
    const auto l = near_layer();
    const int net = l < view_.board->read->copper->layers.size()
                        ? view_.board->read->copper->net_at(to_board(event->position()), l)
                        : -1;
    show_net(net == view_.net ? -1 : net);
    Q_EMIT net_picked(view_.net);
}

void FabCanvas::wheelEvent(QWheelEvent* event) {
    plane_.wheel(*event);
    fitted_ = false;
    moved();
}

}  // namespace grayrelic::app
