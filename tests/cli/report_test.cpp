// SPDX-License-Identifier: GPL-3.0-or-later
// The report on paper, looked at with Debian's tools for PDF, which share nothing with what made it.
#include <cstdio>
#include <regex>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::run;

std::string output_of(const std::string& command) {
    std::string out;
    auto* pipe = popen(command.c_str(), "r");
    char buffer[4096];
    while (const auto n = std::fread(buffer, 1, sizeof buffer, pipe)) out.append(buffer, n);
    pclose(pipe);
    return out;
}

std::string page_text(const std::string& pdf, int page) {
    const auto n = std::to_string(page);
    return output_of("pdftotext -layout -f " + n + " -l " + n + " " + pdf + " -");
}

TEST(ReportOnPaper, ItsContentsNameThePagesOnWhichTheSectionsStand) {
    test::TempFolder folder;
    for (const char* name : {"calder-dial-pad", "calder-page-card", "calder-chart-slate"}) {
        const auto demo = (test::source_folder() / "demos" / (std::string(name) + ".relic")).string();
        const auto pdf = (folder / "report.pdf").string();
        ASSERT_EQ(run("report " + demo + " " + pdf).status, 0) << name;
        const auto info = output_of("pdfinfo " + pdf);
        std::smatch m;
        ASSERT_TRUE(std::regex_search(info, m, std::regex("Pages: +([0-9]+)"))) << info;
        const int pages = std::stoi(m[1]);
        EXPECT_THAT(info, testing::HasSubstr("A4"));
        EXPECT_THAT(output_of("pdfimages -list " + pdf + " | tail -n +3"), "") << "figures are scalable";
        // The contents: a line of words, a gap, a number.
        const auto first = page_text(pdf, 1);
        const std::regex line("\n *([A-Z][^\n]*[^ \n]) {3,}([0-9]+)(?=\n)");
        int sections = 0;
        for (auto it = std::sregex_iterator(first.begin(), first.end(), line); it != std::sregex_iterator();
             ++it) {
            const auto title = (*it)[1].str();
            const int page = std::stoi((*it)[2]);
            if (title != "Findings" && title.find(": ") == std::string::npos) continue;
            ++sections;
            ASSERT_GE(page, 1) << title;
            ASSERT_LE(page, pages) << title;
            auto there = page_text(pdf, page);
            if (page == 1) there = there.substr(there.find("\n", there.find(title) + 1));
            EXPECT_NE(there.find(title), std::string::npos) << name << ": " << title << " on page " << page;
        }
        EXPECT_GE(sections, 6) << first;
        // Each page has its number at its foot.
        for (const int page : {1, pages})
            EXPECT_THAT(page_text(pdf, page),
                        testing::HasSubstr("page " + std::to_string(page) + " of " + std::to_string(pages)));
    }
}

TEST(ReportOnPaper, AnotherEndingIsRefused) {
    test::TempFolder folder;
    const auto a = run("report " + test::demo + " " + (folder / "r.doc").string());
    EXPECT_EQ(a.status, 2);
    EXPECT_THAT(a.err, testing::HasSubstr(".html or .pdf"));
}

}  // namespace
}  // namespace grayrelic
