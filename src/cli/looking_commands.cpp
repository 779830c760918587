// What looks into documents: how much cutaways cut.
#include "cli/commands.h"
#include "io/document/document_json.h"
#include "model/looking/open_up.h"

#include <spdlog/spdlog.h>

#include <algorithm>

namespace kervo::cli {

namespace {

// Those of these letters alone are on, if there are any; what is not there is said.
bool choose(std::vector<model::Cutaway>& cutaways, const std::vector<std::string>& letters) {
    for (const std::string& letter : letters) {
        if (model::find_cutaway(cutaways, letter) == nullptr) {
            spdlog::error("there is no cutaway \u201c{}\u201d", letter);
            return false;
        }
    }
    for (model::Cutaway& cutaway : cutaways) {
        cutaway.on =
            letters.empty() ? cutaway.on : std::find(letters.begin(), letters.end(), cutaway.letter) != letters.end();
    }
    return true;
}

io::Json areas_of(const model::Cutaway& cutaway, const model::OpenedBodies& opened,
                  const model::Evaluation& evaluation) {
    io::Json areas = io::Json::array();
    double sum = 0;
    for (const model::CutArea& each : opened.areas) {
        if (each.letter == cutaway.letter) {
            areas.push_back({{"body", each.body}, {"name", evaluation.traits.at(each.body).name}, {"area", each.area}});
            sum += each.area;
        }
    }
    return {{"letter", cutaway.letter}, {"name", cutaway.name}, {"shape", to_string(cutaway.form)},
            {"on", cutaway.on},         {"area", sum},          {"bodies", std::move(areas)}};
}

} // namespace

int run_cutaways(const Reading& reading, const std::string& view, const std::vector<std::string>& letters) {
    Opened opened;
    if (const int trouble = open(opened, reading.documents.front(), reading.settings)) {
        return trouble;
    }
    int id = 0;
    if (const int trouble = step_id(opened.document, reading.as_of, id)) {
        return trouble;
    }
    if (!view.empty()) {
        const model::View* known = model::find_view(opened.document, view);
        if (known == nullptr) {
            spdlog::error("there is no view \u201c{}\u201d", view);
            return bad_usage;
        }
        opened.document = model::as_in_view(opened.document, model::View(*known));
    }
    if (!choose(opened.document.cutaways, letters)) {
        return bad_usage;
    }
    const auto evaluation = opened.evaluate(id);
    say_all(opened.document, evaluation);
    const auto all = model::open_all(opened.document, evaluation, id, opened.progress);
    for (const Finding& finding : all.findings) {
        say(finding);
    }
    io::Json cutaways = io::Json::array();
    for (const model::Cutaway& cutaway : opened.document.cutaways) {
        cutaways.push_back(areas_of(cutaway, all, evaluation));
    }
    const int printed = print(io::Json{{"unit", "mm2"}, {"cutaways", std::move(cutaways)}}.dump(1) + "\n");
    return printed != all_well ? printed : all.findings.empty() ? all_well : step_failed;
}

} // namespace kervo::cli
