// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/pdf.hpp"

#include <QBuffer>
#include <QGuiApplication>
#include <QPageLayout>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgRenderer>

#include <fmt/format.h>

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
        // The type of the report has an own name inside the program.
        auto text = QByteArray::fromStdString(page);
        text.replace("B612, sans-serif", "Relic Text");
        QSvgRenderer picture(text);
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
    if (out.extension() != ".svg")
        return fail_usage(in_quotes(out.string()), "a file that ends in .pdf or .svg");
    for (std::size_t i = 0; i < card.pages.size(); ++i) {
        auto path = out;
        if (i > 0) path.replace_filename(fmt::format("{}-{}.svg", out.stem().string(), i + 1));
        if (auto done = write_atomically(disk(), path, card.pages[i]); !done) return fail(done.error());
        written.push_back(path);
    }
    return written;
}

}  // namespace grayrelic::render
