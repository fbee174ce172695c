// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/dossier_files.hpp"

#include <fmt/format.h>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

template <class T>
void keep_if_changed(Section<T>& section, T value) {
    if (!(value == *section)) section = Section(std::move(value));
}

}  // namespace

Dossier visit_files(const Dossier& dossier, const std::function<void(const DossierFile&)>& visit) {
    Dossier out = dossier;
    auto captures = *dossier.captures;
    for (auto& c : captures)
        visit({c.id, "captures/" + c.id + ".outside", "captures", "the capture " + in_quotes(c.title), c.file,
               c.outside});
    keep_if_changed(out.captures, std::move(captures));
    auto ports = *dossier.ports;
    for (auto& port : ports)
        for (std::size_t i = 0; i < port.photos.size();
             ++i) {  // photos have no ids: port and place name them
            auto& photo = port.photos[i];
            visit({fmt::format("photo:{}/{}", port.id, i), fmt::format("photos/{}.outside", i), "photos",
                   "the photo " + in_quotes(photo.title), photo.file, photo.outside});
        }
    keep_if_changed(out.ports, std::move(ports));
    auto trace = *dossier.trace;
    for (auto& scan : trace.scans)
        visit({"scan:" + scan.id, "scans/" + scan.id + ".outside", "scans",
               "the scan " + in_quotes(scan.title), scan.file, scan.outside});
    keep_if_changed(out.trace, std::move(trace));
    auto boards = *dossier.boards;
    for (auto& board : boards) {
        if (!board.file.empty() || !board.outside.empty())
            visit({"board:" + board.id, "boards/" + board.id + ".outside", "boards",
                   "the fabrication files " + in_quotes(board.title), board.file, board.outside});
        for (auto& outline : board.outlines)
            visit({"outline:" + board.id + "/" + outline.id, "outlines/" + outline.id + ".outside",
                   "outlines", "the outline " + in_quotes(outline.title), outline.file, outline.outside});
    }
    keep_if_changed(out.boards, std::move(boards));
    auto log = *dossier.log;
    for (auto& image : log.images)
        if (!image.file.empty() || !image.outside.empty())
            visit({"image:" + image.id, "images/" + image.id + ".outside", "images",
                   "the image " + in_quotes(image.name), image.file, image.outside});
    keep_if_changed(out.log, std::move(log));
    return out;
}

}  // namespace grayrelic
