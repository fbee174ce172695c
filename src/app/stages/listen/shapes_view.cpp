// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/shapes_view.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

constexpr std::size_t first_picture = 20'000;  ///< transactions that are laid over one another at once

ShapeBand::ShapeBand(QWidget* parent) : QWidget(parent) {
    setFixedHeight(76);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(tr("Which shape came when"));
    setToolTip(tr("Which shape came when; click to go there"));
}

void ShapeBand::show_shapes(std::shared_ptr<const ShapeList> shapes, int current) {
    shapes_ = std::move(shapes);
    current_ = current;
    update();
}

void ShapeBand::paintEvent(QPaintEvent*) {
    if (!shapes_ || shapes_->transactions.empty()) return;
    QPainter p(this);
    const auto& list = shapes_->transactions;
    const Time from = list.front().start, to = std::max(list.back().end, from + Time::ps(1));
    const int n = std::min<int>(most_lines, static_cast<int>(shapes_->shapes.size()));
    const double each = static_cast<double>(height()) / n, left = 40, room = width() - left;
    // One flag per column and line: what is drawn costs pixels.
    std::vector<char> seen(static_cast<std::size_t>(std::max(1.0, room)) * static_cast<std::size_t>(n), 0);
    for (const auto& t : list) {
        const int line = std::min<int>(static_cast<int>(t.shape), n - 1);
        const auto x =
            static_cast<std::size_t>(std::min(room - 1, room * static_cast<double>((t.start - from).count()) /
                                                            static_cast<double>((to - from).count())));
        seen[static_cast<std::size_t>(line) * static_cast<std::size_t>(room) + x] = 1;
    }
    p.setFont(figure_font(10, false));
    for (int k = 0; k < n; ++k) {
        const double y = each * k;
        p.setPen(theme().ink2);
        if (each >= 12)
            p.drawText(QRectF(0, y, left - 6, each), Qt::AlignRight | Qt::AlignVCenter,
                       k == n - 1 && shapes_->shapes.size() > static_cast<std::size_t>(n)
                           ? tr("%1 …").arg(k + 1)
                           : QString::number(k + 1));
        const auto colour = k == current_ ? theme().slate : theme().ink2;
        for (int x = 0; x < static_cast<int>(room); ++x)
            if (seen[static_cast<std::size_t>(k) * static_cast<std::size_t>(room) +
                     static_cast<std::size_t>(x)] != 0)
                p.fillRect(QRectF(left + x, y + 2, 1, each - 4), colour);
    }
}

void ShapeBand::mousePressEvent(QMouseEvent* event) {
    if (!shapes_ || shapes_->transactions.empty()) return;
    const auto& list = shapes_->transactions;
    const double share = std::clamp((event->position().x() - 40) / std::max(1.0, width() - 40.0), 0.0, 1.0);
    Q_EMIT picked(list.front().start +
                  Time::from_seconds((list.back().end - list.front().start).seconds() * share));
}

ShapesView::ShapesView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    sheet_ = new Sheet(tr("Shapes of transactions"));
    gap_ = new Field;
    gap_->setPlaceholderText(tr("pause: auto"));
    gap_->setAccessibleName(tr("A longer pause parts transactions"));
    gap_->setToolTip(tr("A longer pause parts transactions, such as 200us; empty: found from the edges"));
    gap_->setMaximumWidth(120);
    sheet_->add_to_title(gap_);
    table_ = new FactTable;
    table_->set_columns({{tr("Shape"), 52, true},
                         {tr("Count"), 68, true},
                         {tr("Lasts"), 80, true},
                         {tr("First at"), 92, true},
                         {tr("Edges"), 420}},
                        tr("Shapes, the most frequent first"));
    table_->fit_rows(7);
    sheet_->body()->addWidget(table_, 1);
    band_ = new ShapeBand;
    sheet_->body()->addWidget(band_);
    whole->addWidget(sheet_);
    overlay_sheet_ = new Sheet(tr("Laid over one another"));
    align_ = new QComboBox;
    align_->setMinimumWidth(132);
    align_->setAccessibleName(tr("The edge all are aligned on"));
    align_->setToolTip(tr("The edge of each transaction that all are aligned on: its first of that kind"));
    overlay_sheet_->add_to_title(align_);
    plot_ = new OverlayPlot;
    connect(align_, &QComboBox::activated, this, [this] { lay_over(table_->chosen()); });
    connect(plot_, &OverlayPlot::detail_wanted, this, &ShapesView::lay_detail);
    overlay_sheet_->body()->addWidget(plot_, 1);
    whole->addWidget(overlay_sheet_, 1);
    gap_->commit = [this](const QString& text) -> std::optional<QString> {
        std::optional<Time> t;
        if (const auto plain = text.trimmed(); !plain.isEmpty() && plain != QLatin1String("auto")) {
            const auto parsed = parse_time(plain.toStdString());
            if (!parsed || *parsed <= Time{})
                return tr("Expected a time such as 200us, or nothing for the pause found.");
            t = *parsed;
        }
        if (t != gap_time_) {
            gap_time_ = t;
            find();
        }
        return std::nullopt;
    };
    connect(table_, &FactTable::row_chosen, this, &ShapesView::lay_over);
    connect(table_, &FactTable::row_opened, this, [this](int row) {
        if (!shapes_) return;
        const auto& t = shapes_->transactions[shapes_->shapes[static_cast<std::size_t>(row)].example];
        Q_EMIT place_wanted({t.start, t.end});
    });
    connect(band_, &ShapeBand::picked, this, [this](Time at) { Q_EMIT place_wanted({at, at}); });
    connect(plot_, &OverlayPlot::outlier_wanted, this, [this](std::size_t span, bool) {
        if (!shapes_) return;
        // Spans are those of the chosen shape, in order.
        const auto shape = static_cast<std::uint32_t>(std::max(0, table_->chosen()));
        std::size_t n = 0;
        for (const auto& t : shapes_->transactions)
            if (t.shape == shape && n++ == span) {
                Q_EMIT place_wanted({t.start, t.end});
                return;
            }
    });
}

void ShapesView::show_capture(std::shared_ptr<const CaptureAnalysis> capture) {
    capture_ = std::move(capture);
    const auto now = capture_ ? capture_->capture : nullptr;
    if (now != nullptr && now == found_in_) return;
    found_in_ = now;
    find();
}

void ShapesView::find() {
    finding_.cancel();
    laying_.cancel();
    fill(nullptr);
    if (found_in_ == nullptr) return;
    sheet_->set_about(tr("Looking for shapes …"));
    ShapeOptions options;
    options.gap = gap_time_;
    finding_.ask(
        [whole = capture_->capture, options](Progress& progress) {
            auto s = find_shapes(*whole, options, progress);
            return s ? std::make_shared<const ShapeList>(std::move(*s)) : std::shared_ptr<const ShapeList>();
        },
        [this](const std::shared_ptr<const ShapeList>& s) { fill(s); });
}

void ShapesView::fill(std::shared_ptr<const ShapeList> shapes) {
    shapes_ = std::move(shapes);
    const int rows = shapes_ ? std::min<int>(500, static_cast<int>(shapes_->shapes.size())) : 0;
    std::vector<TableRow> list;
    for (int r = 0; r < rows; ++r) {
        const auto& s = shapes_->shapes[static_cast<std::size_t>(r)];
        const auto first = shapes_->transactions[s.example].start;
        TableRow row{QString::number(s.id), to_q(print_count(s.count)),
                     to_q(print_number(s.duration.median, Unit::second)), to_q(print(first, 6)),
                     to_q(s.text)};
        row[0].key = s.id;
        row[0].sort = static_cast<double>(s.id);
        row[1].sort = static_cast<double>(s.count);
        row[2].sort = s.duration.median;
        row[3].sort = first.seconds();
        for (int c = 0; c < 4; ++c)
            row[static_cast<std::size_t>(c)].tip = tr("Lasts %1 to %2; double click shows the first")
                                                       .arg(to_q(print_number(s.duration.min, Unit::second)),
                                                            to_q(print_number(s.duration.max, Unit::second)));
        list.push_back(std::move(row));
    }
    table_->set_rows(std::move(list));
    band_->show_shapes(shapes_, 0);
    if (!shapes_ || rows == 0) {
        sheet_->set_about(tr("No transactions: bring a capture with edges."));
        lay_over(-1);
        return;
    }
    auto about = tr("%1 parted by pauses over %2")
                     .arg(to_q(plural(static_cast<long long>(shapes_->transactions.size()), "transaction",
                                      "transactions")),
                          to_q(print(shapes_->gap)));
    if (!shapes_->left_out.empty()) {
        QStringList names;
        for (const auto& n : shapes_->left_out) names << to_q(short_name(n));
        about += tr(" · left out, since it carries data: %1").arg(names.join(QStringLiteral(", ")));
    }
    about += tr(" · a shape seen once in %1 would have shown, with 95 %, after %2")
                 .arg(to_q(print_count(static_cast<long long>(shapes_->transactions.size()))),
                      to_q(print(shapes_->to_see_once_in(static_cast<long>(shapes_->transactions.size())))));
    sheet_->set_about(about, true);
    table_->choose(0);
    lay_over(0);
}

void ShapesView::lay_over(int row) {
    laying_.cancel();
    if (!shapes_ || !capture_ || !capture_->capture || row < 0 ||
        row >= static_cast<int>(shapes_->shapes.size())) {
        plot_->show_overlay(nullptr, {}, {}, {});
        overlay_sheet_->set_about({});
        return;
    }
    band_->show_shapes(shapes_, row);
    const auto& shape = shapes_->shapes[static_cast<std::size_t>(row)];
    OverlayRequest request;
    std::vector<Driver> drivers;
    for (const auto& s : capture_->capture->signals) {
        if (!s.digital || s.digital->edges().empty() || request.signals.size() >= 12) continue;
        request.signals.push_back(s.name);
        const auto* pin = document_.dossier().pin_of(capture_->ref, s.name);
        drivers.push_back(pin != nullptr ? pin->driver.value : Driver::unknown);
    }
    fill_align(request.signals);
    if (const auto edge = parse_edge(align_->currentData().toString().toStdString())) request.align = *edge;
    const Time lasts = Time::from_seconds(std::max(shape.duration.max, 1e-9));
    request.before = request.align ? lasts : lasts / 20;
    request.after = lasts + lasts / 20;
    request.columns = 4800;  // a few to the pixel: zoom and pan need no new one for a while
    for (const auto& t : shapes_->transactions)
        if (t.shape == static_cast<std::uint32_t>(row)) request.spans.push_back({t.start, t.end});
    overlay_sheet_->set_title(tr("Shape %1, laid over one another").arg(shape.id));
    const auto show = [this, before = request.before, after = request.after, drivers,
                       all = request.spans.size(),
                       on = align_->currentText()](const std::shared_ptr<const Overlay>& o) {
        plot_->show_overlay(o, before, after, drivers);
        overlay_sheet_->set_about(
            o ? tr("%1 of %2 transactions, aligned on %3 · Ctrl+wheel zooms · point at an edge for its "
                   "spread, click for the latest, Shift+click for the earliest")
                    .arg(to_q(print_count(static_cast<long long>(o->spans))),
                         to_q(print_count(static_cast<long long>(all))), on)
              : QString(),
            true);
    };
    const auto work = [whole = capture_->capture](const OverlayRequest& r, Progress& progress) {
        auto o = make_overlay(*whole, r, progress);
        return o ? std::make_shared<const Overlay>(std::move(*o)) : std::shared_ptr<const Overlay>();
    };
    detailing_.cancel();
    request_ = request;
    // A first picture from some of them, then the exact one.
    auto first = request;
    first.stride = std::max<std::size_t>(1, request.spans.size() / first_picture);
    overlay_sheet_->set_about(tr("Laying them over one another …"), true);
    laying_.ask([work, first](Progress& p) { return work(first, p); },
                [this, show, work, request, rough = first.stride > 1](const auto& o) {
                    show(o);
                    if (rough) laying_.ask([work, request](Progress& p) { return work(request, p); }, show);
                });
}

void ShapesView::fill_align(const std::vector<std::string>& names) {
    const QSignalBlocker block(align_);
    const auto before = align_->currentData();
    align_->clear();
    align_->addItem(tr("the beginning"), QString());
    for (const auto& n : names)
        for (const auto d : {Direction::rise, Direction::fall})
            align_->addItem(to_q(show_edge({short_name(n), d})), to_q(print_edge({n, d})));
    if (const int at = align_->findData(before); at >= 0) align_->setCurrentIndex(at);
}

/// A stretch of what is laid over, in finer columns; computed beside the window.
void ShapesView::lay_detail(Span stretch) {
    if (!capture_ || !capture_->capture || stretch.length() <= Time{}) return;
    auto request = request_;
    request.before = Time{} - stretch.from;
    request.after = stretch.to;
    detailing_.ask(
        [whole = capture_->capture, request](Progress& progress) {
            auto o = make_overlay(*whole, request, progress);
            return o ? std::make_shared<const Overlay>(std::move(*o)) : std::shared_ptr<const Overlay>();
        },
        [this, stretch](const std::shared_ptr<const Overlay>& o) { plot_->show_detail(o, stretch); });
}

}  // namespace grayrelic::app
