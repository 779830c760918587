#include "model/route/dependency_graph.h"

#include "model/document/groups_and_layers.h"
#include "model/route/writers.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <set>

namespace kervo::model {

namespace {

// Collects nodes and edges, by what they stand for.
class Collector {
public:
    DependencyGraph collect(const Document& document) {
        std::map<int, Dependencies> reads;
        for (const StepPtr& step : document.steps) {
            reads[step->id] = dependencies_of(
                without_groups(step->definition, [&](int group) { return said_members(document, group); }));
        }
        for (const Parameter& parameter : document.parameters) {
            add_parameter(parameter.name, false);
        }
        for (const StepPtr& step : document.steps) {
            for (const std::string& name : reads[step->id].measures) {
                add_parameter(name, true);
            }
        }
        for (const StepPtr& step : document.steps) {
            GraphNode node;
            node.text =
                std::to_string(step->number) + "  " + (step->name.empty() ? title_of(step->definition) : step->name);
            node.step = step->id;
            node.suspended = step->suspended;
            step_nodes_[step->id] = static_cast<int>(graph_.nodes.size());
            graph_.nodes.push_back(std::move(node));
        }
        for (const Parameter& parameter : document.parameters) {
            for (const std::string& name : names_read(parameter.formula)) {
                tie(parameter_node(name), parameter_node(parameter.name));
            }
        }
        Writers writers;
        std::set<int> earlier;
        for (const StepPtr& step : document.steps) {
            tie_step(*step, reads[step->id], writers, earlier);
            tell_frozen_curves(*step);
            earlier.insert(step->id);
        }
        mark_frozen();
        return std::move(graph_);
    }

private:
    void add_parameter(const std::string& name, bool measured) {
        if (parameter_nodes_.emplace(name, static_cast<int>(graph_.nodes.size())).second) {
            GraphNode node;
            node.text = node.parameter = name;
            node.measured = measured;
            graph_.nodes.push_back(std::move(node));
        }
    }
    [[nodiscard]] int parameter_node(const std::string& name) const {
        const auto at = parameter_nodes_.find(name);
        return at == parameter_nodes_.end() ? -1 : at->second;
    }
    void tie(int from, int to) {
        const std::pair edge{from, to};
        if (from >= 0 && to >= 0 && from != to &&
            std::find(graph_.edges.begin(), graph_.edges.end(), edge) == graph_.edges.end()) {
            graph_.edges.push_back(edge);
        }
    }
    void tie_step(const Step& step, const Dependencies& reads, Writers& writers, const std::set<int>& earlier) {
        const int node = step_nodes_.at(step.id);
        for (const std::string& name : reads.parameters) {
            tie(parameter_node(name), node);
        }
        for (const std::string& name : reads.measures) {
            tie(node, parameter_node(name));
        }
        for (const auto* steps : {&reads.sketches, &reads.sweeps}) {
            for (const int source : *steps) {
                if (earlier.contains(source)) {
                    tie(step_nodes_.at(source), node);
                }
            }
        }
        for (const BodyId& body : reads.reads) {
            const int source = writers.last(body, reads.sees_after(body));
            if (earlier.contains(source)) {
                tie(step_nodes_.at(source), node);
            }
        }
        writers.add(step.id, reads.writes);
        writers.pass(step.id);
    }
    void tell_frozen_curves(const Step& step) {
        const auto* drawing = drawing_of(step.definition);
        if (drawing == nullptr) {
            return;
        }
        const auto& curves = drawing->curves;
        const auto count = std::count_if(curves.begin(), curves.end(), [](const auto& c) { return c.source.frozen; });
        if (count > 0) {
            graph_.nodes[static_cast<size_t>(step_nodes_.at(step.id))].text +=
                " \u00b7 " + std::to_string(count) + " frozen";
        }
    }
    void mark_frozen() {
        for (size_t i = 0; i < graph_.nodes.size(); ++i) {
            const auto sources = graph_.behind(static_cast<int>(i));
            graph_.nodes[i].frozen =
                graph_.nodes[i].step != 0 && std::none_of(sources.begin(), sources.end(), [&](int s) {
                    return graph_.nodes[static_cast<size_t>(s)].step == 0;
                });
        }
    }

    DependencyGraph graph_;
    std::map<std::string, int> parameter_nodes_;
    std::map<int, int> step_nodes_;
};

constexpr double row_height = 30;
constexpr double box_height = 22;
constexpr double gap_between_layers = 44;
constexpr double margin = 16;

// Nodes, and a place in every layer that a long edge passes through.
class Layers {
public:
    explicit Layers(const DependencyGraph& graph) : graph_(graph) {
        find_layers();
        draw_sources_near();
        fill();
        for (int round = 0; round < 8; ++round) {
            sweep(round % 2 == 0);
        }
    }

    GraphLayout place() {
        GraphLayout out;
        out.boxes.resize(graph_.nodes.size());
        double x = margin;
        size_t most = 0;
        for (const auto& layer : layers_) {
            most = std::max(most, layer.size());
        }
        std::vector<std::array<double, 2>> at(spots_.size());
        for (const auto& layer : layers_) {
            double widest = 0;
            for (const int spot : layer) {
                widest = std::max(widest, width_of(spot));
            }
            // Short layers stand in the middle.
            double y = margin + row_height * static_cast<double>(most - layer.size()) / 2;
            for (const int spot : layer) {
                at[static_cast<size_t>(spot)] = {x, y + box_height / 2};
                if (const int node = spots_[static_cast<size_t>(spot)].node; node >= 0) {
                    out.boxes[static_cast<size_t>(node)] = {x, y, width_of(spot), box_height};
                }
                y += row_height;
            }
            for (const int spot : layer) { // passing edges run straight through
                passes_[spot] = {x, x + widest};
            }
            x += widest + gap_between_layers;
        }
        for (size_t i = 0; i < graph_.edges.size(); ++i) {
            const auto& [from, to] = graph_.edges[i];
            const auto& a = out.boxes[static_cast<size_t>(from)];
            const auto& b = out.boxes[static_cast<size_t>(to)];
            auto& route = out.routes.emplace_back();
            route.push_back({a[0] + a[2], a[1] + a[3] / 2});
            for (const int spot : through_[i]) {
                const double height = at[static_cast<size_t>(spot)][1];
                route.push_back({passes_[spot].first, height});
                route.push_back({passes_[spot].second, height});
            }
            route.push_back({b[0], b[1] + b[3] / 2});
        }
        out.width = x - gap_between_layers + margin;
        out.height = 2 * margin + row_height * static_cast<double>(most);
        return out;
    }

private:
    struct Spot {
        int node = -1; ///< -1: an edge passes here
        std::vector<int> before, after;
    };

    [[nodiscard]] double width_of(int spot) const {
        const int node = spots_[static_cast<size_t>(spot)].node;
        return node < 0 ? 0 : 20 + 6.9 * static_cast<double>(graph_.nodes[static_cast<size_t>(node)].text.size());
    }

    // Depth first; an edge back to a node that is still open closes a loop, and does not count.
    void find_layers() {
        layer_of_.assign(graph_.nodes.size(), 0);
        std::vector<int> state(graph_.nodes.size());
        std::vector<int> finished;
        for (size_t start = 0; start < graph_.nodes.size(); ++start) {
            std::vector<std::pair<int, size_t>> path;
            if (state[start] == 0) {
                path.emplace_back(static_cast<int>(start), 0);
                state[start] = 1;
            }
            while (!path.empty()) {
                auto& [node, next] = path.back();
                if (next == graph_.edges.size()) {
                    state[static_cast<size_t>(node)] = 2;
                    finished.push_back(node);
                    path.pop_back();
                    continue;
                }
                const size_t edge = next++;
                const auto& [from, to] = graph_.edges[edge];
                if (from != node) {
                    continue;
                }
                if (state[static_cast<size_t>(to)] == 1) {
                    back_.insert(edge);
                } else if (state[static_cast<size_t>(to)] == 0) {
                    state[static_cast<size_t>(to)] = 1;
                    path.emplace_back(to, 0);
                }
            }
        }
        std::reverse(finished.begin(), finished.end()); // sources first
        for (const int node : finished) {
            for (size_t i = 0; i < graph_.edges.size(); ++i) {
                const auto& [from, to] = graph_.edges[i];
                if (from == node && !back_.contains(i)) {
                    layer_of_[static_cast<size_t>(to)] =
                        std::max(layer_of_[static_cast<size_t>(to)], layer_of_[static_cast<size_t>(from)] + 1);
                }
            }
        }
    }

    // What hangs on nothing stands right before what first reads it.
    void draw_sources_near() {
        for (size_t node = 0; node < graph_.nodes.size(); ++node) {
            int first = -1;
            bool source = true;
            for (size_t i = 0; i < graph_.edges.size(); ++i) {
                const auto& [from, to] = graph_.edges[i];
                const int layer = layer_of_[static_cast<size_t>(to)];
                source = source && to != static_cast<int>(node);
                if (from == static_cast<int>(node) && !back_.contains(i)) {
                    first = first < 0 ? layer : std::min(first, layer);
                }
            }
            if (source && first > 0) {
                layer_of_[node] = first - 1;
            }
        }
    }

    int add_spot(int node, int layer) {
        const int spot = static_cast<int>(spots_.size());
        spots_.push_back({node, {}, {}});
        layers_[static_cast<size_t>(layer)].push_back(spot);
        return spot;
    }
    void join(int a, int b) {
        spots_[static_cast<size_t>(a)].after.push_back(b);
        spots_[static_cast<size_t>(b)].before.push_back(a);
    }

    void fill() {
        const int last = layer_of_.empty() ? 0 : *std::max_element(layer_of_.begin(), layer_of_.end());
        layers_.resize(static_cast<size_t>(last) + 1);
        for (size_t i = 0; i < graph_.nodes.size(); ++i) {
            add_spot(static_cast<int>(i), layer_of_[i]);
        }
        through_.resize(graph_.edges.size());
        for (size_t i = 0; i < graph_.edges.size(); ++i) {
            const auto& [from, to] = graph_.edges[i];
            if (back_.contains(i)) {
                continue;
            }
            int before = from; // spots of nodes have the nodes' indices
            for (int layer = layer_of_[static_cast<size_t>(from)] + 1; layer < layer_of_[static_cast<size_t>(to)];
                 ++layer) {
                const int spot = add_spot(-1, layer);
                through_[i].push_back(spot);
                join(before, spot);
                before = spot;
            }
            join(before, to);
        }
    }

    void sweep(bool forward) {
        std::vector<double> rank(spots_.size());
        const auto number = [&](const std::vector<int>& layer) {
            for (size_t i = 0; i < layer.size(); ++i) { // from the middle, as layers are placed
                rank[static_cast<size_t>(layer[i])] = static_cast<double>(i) - static_cast<double>(layer.size()) / 2;
            }
        };
        std::for_each(layers_.begin(), layers_.end(), number);
        for (size_t k = 0; k < layers_.size(); ++k) {
            auto& layer = layers_[forward ? k : layers_.size() - 1 - k];
            std::map<int, double> pull;
            for (const int spot : layer) {
                const auto& next =
                    forward ? spots_[static_cast<size_t>(spot)].before : spots_[static_cast<size_t>(spot)].after;
                const double sum = std::accumulate(next.begin(), next.end(), 0.0, [&](double total, int other) {
                    return total + rank[static_cast<size_t>(other)];
                });
                pull[spot] = next.empty() ? rank[static_cast<size_t>(spot)] : sum / static_cast<double>(next.size());
            }
            std::stable_sort(layer.begin(), layer.end(), [&](int a, int b) { return pull[a] < pull[b]; });
            number(layer);
        }
    }

    const DependencyGraph& graph_;
    std::vector<int> layer_of_;
    std::set<size_t> back_; ///< edges that close a loop
    std::vector<Spot> spots_;
    std::vector<std::vector<int>> layers_;
    std::vector<std::vector<int>> through_; ///< by edge: the spots it passes
    std::map<int, std::pair<double, double>> passes_;
};

} // namespace

bool DependencyGraph::hangs_on(int step, int other) const {
    const auto node =
        std::find_if(nodes.begin(), nodes.end(), [step](const GraphNode& each) { return each.step == step; });
    if (node == nodes.end()) {
        return false;
    }
    const auto all = behind(static_cast<int>(node - nodes.begin()));
    return std::any_of(all.begin(), all.end(),
                       [&](int index) { return nodes[static_cast<size_t>(index)].step == other; });
}

std::vector<int> DependencyGraph::reach(int node, bool forward) const {
    std::set<int> found;
    std::vector<int> open{node};
    while (!open.empty()) {
        const int next = open.back();
        open.pop_back();
        for (const auto& [from, to] : edges) {
            const int here = forward ? from : to;
            const int there = forward ? to : from;
            if (here == next && there != node && found.insert(there).second) {
                open.push_back(there);
            }
        }
    }
    return {found.begin(), found.end()};
}

DependencyGraph dependency_graph(const Document& document) {
    return Collector().collect(document);
}

GraphLayout lay_out(const DependencyGraph& graph) {
    return graph.nodes.empty() ? GraphLayout{} : Layers(graph).place();
}

} // namespace kervo::model
