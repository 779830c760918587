#include "io/formats/step/step.h"

#include "geom/kernel/kernel_progress.h"
#include "geom/measure/measure.h"
#include "io/formats/told_stream.h"

#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_PrinterOStream.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Controller.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <StepBasic_DocumentFile.hxx>
#include <StepBasic_ExternalIdentificationAssignment.hxx>
#include <StepData_StepModel.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>

#include <algorithm>
#include <set>

namespace kervo::io {

namespace {

Handle(TDocStd_Document) new_exchange_document() {
    // The exchange code chats on standard output, where scripts expect results.
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    Handle(TDocStd_Document) document;
    XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document);
    return document;
}

std::string name_of(const TDF_Label& label) {
    Handle(TDataStd_Name) name;
    if (!label.FindAttribute(TDataStd_Name::GetID(), name)) {
        return {};
    }
    const TCollection_ExtendedString& text = name->Get();
    std::string utf8(static_cast<size_t>(text.LengthOfCString()), '\0');
    Standard_PCharacter target = utf8.data();
    text.ToUTF8CString(target);
    return utf8;
}

// Walks the product structure; names and colours of an instance win over those of what it is an instance of.
class StructureWalk {
public:
    explicit StructureWalk(const Handle(TDocStd_Document) & document)
        : shapes_(XCAFDoc_DocumentTool::ShapeTool(document->Main())),
          colors_(XCAFDoc_DocumentTool::ColorTool(document->Main())) {}

    std::vector<NamedBody> bodies() {
        TDF_LabelSequence free;
        shapes_->GetFreeShapes(free);
        for (const TDF_Label& label : free) {
            walk(label, TopLoc_Location(), {}, {});
        }
        return std::move(bodies_);
    }

private:
    std::string color_of(const TDF_Label& label) const {
        Quantity_Color color;
        for (const XCAFDoc_ColorType type : {XCAFDoc_ColorSurf, XCAFDoc_ColorGen}) {
            if (colors_->GetColor(label, type, color)) {
                return hex(color);
            }
        }
        return {};
    }

    std::string color_of(const TopoDS_Shape& shape) const {
        Quantity_Color color;
        for (const XCAFDoc_ColorType type : {XCAFDoc_ColorSurf, XCAFDoc_ColorGen}) {
            if (colors_->GetColor(shape, type, color)) {
                return hex(color);
            }
        }
        return {};
    }

    static std::string hex(const Quantity_Color& color) {
        std::string text = Quantity_Color::ColorToHex(color).ToCString();
        for (char& c : text) {
            c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        }
        return text;
    }

    void walk(const TDF_Label& label, const TopLoc_Location& place, const std::string& outer_name,
              const std::string& outer_color) {
        TDF_Label referred;
        std::string name = outer_name.empty() ? name_of(label) : outer_name;
        std::string color = outer_color.empty() ? color_of(label) : outer_color;
        if (XCAFDoc_ShapeTool::GetReferredShape(label, referred)) {
            // An instance is often just called after its product with a number; the product's own name reads better.
            const std::string product = name_of(referred);
            walk(referred, place * XCAFDoc_ShapeTool::GetLocation(label), product.empty() ? name : product, color);
            return;
        }
        if (XCAFDoc_ShapeTool::IsAssembly(label)) {
            TDF_LabelSequence parts;
            XCAFDoc_ShapeTool::GetComponents(label, parts);
            for (const TDF_Label& part : parts) {
                walk(part, place, {}, color);
            }
            return;
        }
        const TopoDS_Shape shape = XCAFDoc_ShapeTool::GetShape(label);
        const auto solids = geom::solids_of(shape);
        for (const TopoDS_Shape& solid : solids) {
            const std::string own = color.empty() ? color_of(solid) : color;
            const std::string number = solids.size() > 1 ? " " + std::to_string(bodies_.size() + 1) : "";
            bodies_.push_back({name + number, own, solid.Moved(place)});
        }
        if (solids.empty() && !geom::faces_of(shape).empty()) { // a surface
            bodies_.push_back({name, color.empty() ? color_of(shape) : color, shape.Moved(place)});
        }
    }

    Handle(XCAFDoc_ShapeTool) shapes_;
    Handle(XCAFDoc_ColorTool) colors_;
    std::vector<NamedBody> bodies_;
};

// Files that a STEP file says it is one part of (ISO 10303-21, DOCUMENT_FILE and external identification of the
// schemas). Their names are taken out of it, so that nothing looks for them.
std::vector<std::string> take_other_files(const StepData_StepModel& model) {
    std::set<std::string> names;
    const Handle(TCollection_HAsciiString) nothing = new TCollection_HAsciiString("");
    const auto take = [&](const Handle(TCollection_HAsciiString) & name) {
        if (!name.IsNull() && !name->IsEmpty()) {
            names.insert(name->ToCString());
        }
    };
    for (int i = 1; i <= model.NbEntities(); ++i) {
        const Handle(Standard_Transient)& entity = model.Value(i);
        if (const auto document = Handle(StepBasic_DocumentFile)::DownCast(entity); !document.IsNull()) {
            take(document->Id());
            document->SetId(nothing);
        }
        if (const auto outside = Handle(StepBasic_ExternalIdentificationAssignment)::DownCast(entity);
            !outside.IsNull()) {
            take(outside->AssignedId());
            outside->SetAssignedId(nothing);
        }
    }
    return {names.begin(), names.end()};
}

Result<ReadBodies> read_step(const std::string& bytes, Progress& progress) {
    STEPCAFControl_Reader reader;
    reader.SetNameMode(Standard_True);
    reader.SetColorMode(Standard_True);
    ToldStream stream(bytes, progress);
    if (reader.ChangeReader().ReadStream("", stream) != IFSelect_RetDone) {
        return unreadable("it is not a STEP file, or it is cut off");
    }
    ReadBodies file;
    file.not_followed = take_other_files(*reader.ChangeReader().StepModel());
    Handle(TDocStd_Document) document = new_exchange_document();
    const Handle(geom::KernelProgress) told = new geom::KernelProgress(progress);
    if (reader.Transfer(document, told->Start())) {
        file.bodies = StructureWalk(document).bodies();
    }
    if (file.bodies.empty()) {
        return unreadable(file.not_followed.empty()
                              ? "it holds no bodies"
                              : "it holds no bodies, and only refers to other files, which are not "
                                "read, such as \u201c" +
                                    file.not_followed.front() + "\u201d");
    }
    return file;
}

bool write_step(const std::vector<NamedBody>& bodies, const std::string& path) {
    STEPCAFControl_Controller::Init();
    const Handle(TDocStd_Document) document = new_exchange_document();
    const Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
    const Handle(XCAFDoc_ColorTool) colors = XCAFDoc_DocumentTool::ColorTool(document->Main());
    for (const NamedBody& body : bodies) {
        const TDF_Label label = shapes->AddShape(body.shape, Standard_False);
        TDataStd_Name::Set(label, TCollection_ExtendedString(body.name.c_str(), Standard_True));
        Quantity_Color color;
        if (!body.color.empty() && Quantity_Color::ColorFromHex(body.color.c_str(), color)) {
            colors->SetColor(label, color, XCAFDoc_ColorSurf);
        }
        for (const auto& [face, own] : body.own_colors) {
            if (Quantity_Color::ColorFromHex(own.c_str(), color)) {
                colors->SetColor(shapes->AddSubShape(label, face), color, XCAFDoc_ColorSurf);
            }
        }
    }
    Interface_Static::SetCVal("write.step.schema", "AP242DIS");
    Interface_Static::SetCVal("write.step.unit", "MM");
    STEPCAFControl_Writer writer;
    writer.SetNameMode(Standard_True);
    writer.SetColorMode(Standard_True);
    return writer.Transfer(document, STEPControl_AsIs) && writer.Write(path.c_str()) == IFSelect_RetDone;
}

} // namespace

Format step_format() {
    Format format{"step", "STEP AP242", {".step", ".stp"}};
    format.read_bodies = read_step;
    format.write_bodies = [](const std::vector<NamedBody>& bodies, const FormatAnswers& /*answers*/,
                             const std::string& path) { return write_step(bodies, path); };
    return format;
}

} // namespace kervo::io
