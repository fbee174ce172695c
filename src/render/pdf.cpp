// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/pdf.hpp"

#include <QBuffer>
#include <QGuiApplication>
#include <QImage>
#include <QPageLayout>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgRenderer>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/file_system.hpp"
#include "core/base/text.hpp"
#include "render/fonts.hpp"

namespace grayrelic::render {

HeadlessGui::HeadlessGui() {
    if (QCoreApplication::instance() != nullptr) return;
    qputenv("QT_QPA_PLATFORM", "offscreen");
    static int count = 1;
    static char name[] = "gray-relic";
    static char* arguments[] = {name, nullptr};
    // Qt's remarks about a missing session are nothing to a person who wants a file.
    const auto before = qInstallMessageHandler([](QtMsgType, const QMessageLogContext&, const QString&) {});
    application_ = std::make_unique<QGuiApplication>(count, arguments);
    qInstallMessageHandler(before);
    load_fonts();
}

HeadlessGui::~HeadlessGui() = default;

namespace {

/// The type of the report has an own name inside the program.
[[nodiscard]] QByteArray with_own_type(const std::string& page) {
    auto text = QByteArray::fromStdString(page);
    text.replace("B612, sans-serif", "Relic Text");
    return text;
}

/// On white, at 200 dots to the inch, smaller where that would be a very large picture.
[[nodiscard]] Result<std::string> page_png(const Card& card, const std::string& page) {
    constexpr double dots_a_mm = 200 / 25.4, most_side = 8000;
    QSvgRenderer picture(with_own_type(page));
    const double scale = std::min(dots_a_mm, most_side / std::max({card.width_mm, card.height_mm, 1.0}));
    QImage image(static_cast<int>(std::lround(card.width_mm * scale)),
                 static_cast<int>(std::lround(card.height_mm * scale)), QImage::Format_RGB32);
    if (!picture.isValid() || image.isNull())
        return fail_system({}, "a sheet that can't be drawn", "an SVG picture");
    image.fill(Qt::white);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    picture.render(&painter);
    painter.end();
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    if (!image.save(&buffer, "PNG"))
        return fail_system({}, "a picture that can't be packed", "a PNG picture");
    return bytes.toStdString();
}

}  // namespace

Result<std::string> card_pdf(const Card& card, const std::string& title) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setTitle(QString::fromStdString(title));
    writer.setCreator(QStringLiteral("Gray Relic"));
    writer.setPageLayout(QPageLayout(
        QPageSize(QSizeF(card.width_mm, card.height_mm), QPageSize::Millimeter, {}, QPageSize::ExactMatch),
        QPageLayout::Portrait, QMarginsF()));
    writer.setResolution(300);
    QPainter painter(&writer);
    if (!painter.isActive()) return fail_system({}, "no way to paint a PDF document", "one");
    bool first = true;
    for (const auto& page : card.pages) {
        QSvgRenderer picture(with_own_type(page));
        if (!picture.isValid()) return fail_system({}, "a sheet that can't be drawn", "an SVG picture");
        if (!first) writer.newPage();
        first = false;
        picture.render(&painter, QRectF(0, 0, writer.width(), writer.height()));
    }
    painter.end();
    return bytes.toStdString();
}

Result<std::vector<std::filesystem::path>> write_card(const Card& card, const std::filesystem::path& out,
                                                      const std::string& title) {
    std::vector<std::filesystem::path> written;
    if (out.extension() == ".pdf") {
        const auto bytes = card_pdf(card, title);
        if (!bytes) return fail(bytes.error());
        if (auto done = write_atomically(disk(), out, *bytes); !done) return fail(done.error());
        return std::vector{out};
    }
    const bool png = out.extension() == ".png";
    if (!png && out.extension() != ".svg")
        return fail_usage(in_quotes(out.string()), "a file that ends in .pdf, .svg or .png");
    for (std::size_t i = 0; i < card.pages.size(); ++i) {
        auto path = out;
        if (i > 0)
            path.replace_filename(
                fmt::format("{}-{}{}", out.stem().string(), i + 1, out.extension().string()));
        const auto bytes = png ? page_png(card, card.pages[i]) : Result<std::string>(card.pages[i]);
        if (!bytes) return fail(bytes.error());
        if (auto done = write_atomically(disk(), path, *bytes); !done) return fail(done.error());
        written.push_back(path);
    }
    return written;
}

}  // namespace grayrelic::render
