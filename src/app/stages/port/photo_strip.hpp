// SPDX-License-Identifier: GPL-3.0-or-later
// Photos of a port: small, side by side; a click opens one in a window of its own.
#pragma once

#include <QCache>
#include <QMouseEvent>
#include <QPainter>
#include <QPixmap>
#include <QWidget>

#include <filesystem>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic::app {

class PhotoStrip : public QWidget {
    Q_OBJECT
  public:
    explicit PhotoStrip(QWidget* parent = nullptr) : QWidget(parent) {
        setAccessibleName(tr("Photos"));
        setFixedHeight(0);
    }
    void show_photos(const std::vector<Photo>& photos, const std::filesystem::path& folder) {
        shown_.clear();
        for (const auto& photo : photos) {
            const auto path = photo_path(photo, folder);
            Shown s{to_q(photo.title), {}, {}};
            if (path) {
                s.path = QString::fromStdString(path->string());
                // A picture is decoded once; a huge one is scaled by its reader.
                if (const auto* kept = cache_.object(s.path)) {
                    s.picture = *kept;
                } else {
                    s.picture = QPixmap(s.path).scaled(160, height_of_photos, Qt::KeepAspectRatio,
                                                       Qt::SmoothTransformation);
                    cache_.insert(s.path, new QPixmap(s.picture));
                }
            }
            shown_.push_back(std::move(s));
        }
        setFixedHeight(shown_.empty() ? 0 : height_of_photos + 20);
        update();
    }

  Q_SIGNALS:
    void opened(const QString& path);

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        int x = 0;
        for (auto& s : shown_) {
            const int w = s.picture.isNull() ? 90 : s.picture.width();
            s.box = QRect(x, 0, w, height_of_photos);
            if (s.picture.isNull()) {
                p.setPen(theme().hairline);
                p.drawRect(s.box.adjusted(0, 0, -1, -1));
            } else {
                p.drawPixmap(s.box.topLeft(), s.picture);
            }
            p.setPen(theme().ink2);
            p.setFont(text_font(11));
            draw_text(p, QRectF(x, height_of_photos + 2, w, 16), Qt::AlignLeft | Qt::AlignVCenter,
                      s.picture.isNull() ? tr("no picture") : s.title);
            x += w + 8;
        }
    }
    void mousePressEvent(QMouseEvent* e) override {
        for (const auto& s : shown_)
            if (s.box.contains(e->pos()) && !s.path.isEmpty()) Q_EMIT opened(s.path);
    }

  private:
    static constexpr int height_of_photos = 72;
    struct Shown {
        QString title, path;
        QPixmap picture;
        QRect box{};
    };
    std::vector<Shown> shown_;
    QCache<QString, QPixmap> cache_{50};
};

}  // namespace grayrelic::app
