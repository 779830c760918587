// Rows worked off one after the other: what each makes of what those before it made.
#pragma once

#include "geom/make/edge_net.h"
#include "geom/surface/sew.h"
#include "model/route/row_points.h"

#include <TopoDS_Face.hxx>

namespace kervo::model {

/// What it makes is counted by index: points and edges of the net, faces, shells.
class Building {
public:
    Building(int step, Answers& answers, StepOutput& output)
        : prefix_(std::to_string(step) + ":"), answers_(answers), output_(output) {}

    void take(const std::vector<TakenElement>& taken);
    /// In their order, until one is a finding.
    void work(const Rows& rows);
    /// The most that came of them under the step's own id: solids, else surfaces, else curves; what was not used for it
    /// beside it. And how many there are of each.
    void hand_out(const BodyId& id);

private:
    static constexpr double sewn_up_to = 1e-4; // mm: as near as what spans a border comes to it

    enum class Is { points, edges, faces, shells };
    struct Known {
        Is is;
        std::vector<size_t> which;
    };
    struct Face {
        TopoDS_Face face;
        std::vector<size_t> edges; // of the net, sorted; none of a face of a body
        FaceName name;
        bool in_shell = false;
    };
    struct Shell {
        geom::Sewn sewn;
        bool in_solid = false;
    };

    void work(const Row& row);
    void add_point(const Row& row);
    void add_edges(const Row& row);
    void add_chain(const Row& row);
    void add_flat_faces(const Row& row);
    void add_free_face(const Row& row);
    void add_shell(const Row& row);
    void add_solid(const Row& row);

    [[nodiscard]] std::vector<size_t> named(const Row& row, Is wanted);
    [[nodiscard]] std::vector<size_t> edges_named(const Row& row);
    [[nodiscard]] std::vector<size_t> free_edges() const;
    [[nodiscard]] std::set<size_t> edges_in_faces() const;
    bool add_face(const Row& row, const TopoDS_Face& face, std::vector<size_t> edges, const std::string& role);
    void add_edge(const Row& row, const Result<geom::EdgeNet::Added>& added, const std::string& label,
                  std::vector<size_t>& made);
    [[nodiscard]] std::string labels_of(const std::vector<size_t>& edges) const;
    void know(const Row& row, Is is, std::vector<size_t> which) { known_[row.name] = {is, std::move(which)}; }
    /// Its name stands there in the model.
    void mark(const std::string& name, const gp_Pnt& at, bool point = false) {
        output_.named.push_back({name, {at.X(), at.Y(), at.Z()}, point});
    }
    void tell(Finding finding, const Row& row);
    void lacks(const Row& row, const std::string& what);
    void tell_counts();
    void hand_out_surfaces(const BodyId& id);

    std::string prefix_;
    Answers& answers_;
    StepOutput& output_;
    geom::EdgeNet net_;
    std::vector<std::string> point_names_, edge_names_; // of the net
    std::map<std::string, Known> known_;
    std::vector<Face> faces_;
    std::vector<Shell> shells_;
    std::vector<TopoDS_Shape> solids_;
    std::vector<geom::FaceOrigin> solid_origins_;
    FaceNames names_; // of all faces and of edges as borders
};

} // namespace kervo::model
