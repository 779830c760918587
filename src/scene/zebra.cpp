#include "scene/zebra.h"

#include <Graphic3d_ShaderObject.hxx>

namespace kervo::scene {

namespace {

const char* const at_nodes = R"(
THE_SHADER_OUT vec3 Normal;
THE_SHADER_OUT vec3 Place;
void main() {
    vec4 place = occModelWorldMatrix * occVertex;
    Place = place.xyz / place.w;
    Normal = (occWorldViewMatrixInverseTranspose * (occModelWorldMatrixInverseTranspose * vec4(occNormal, 0.0))).xyz;
    gl_Position = occProjectionMatrix * occWorldViewMatrix * place;
}
)";

// The eye looks along -z. The lamps lie along x, above and below; how far up a mirrored ray goes says in which it ends.
const char* const in_between = R"(
THE_SHADER_IN vec3 Normal;
THE_SHADER_IN vec3 Place;
void main() {
#if defined(THE_MAX_CLIP_PLANES) && (THE_MAX_CLIP_PLANES > 0)
    for (int i = 0; i < occClipPlaneCount; ++i) {
        vec4 plane = occClipPlaneEquations[i];
        if (dot(plane.xyz, Place) + plane.w < 0.0) {
            discard;
        }
    }
#endif
    vec3 normal = normalize(Normal);
    normal = normal.z < 0.0 ? -normal : normal;
    vec3 ray = reflect(vec3(0.0, 0.0, -1.0), normal);
    float height = atan(ray.y, length(ray.xz)) * 15.0;
    float soft = clamp(fwidth(height), 0.02, 1.5);
    float stripe = smoothstep(-soft, soft, sin(height));
    float shade = 0.72 + 0.28 * normal.z;
    occSetFragColor(vec4(mix(vec3(0.13, 0.16, 0.18), vec3(0.97, 0.96, 0.93), stripe) * shade, 1.0));
}
)";

} // namespace

const Handle(Graphic3d_ShaderProgram) & zebra_program() {
    static const Handle(Graphic3d_ShaderProgram) program = [] {
        Handle(Graphic3d_ShaderProgram) made = new Graphic3d_ShaderProgram();
        made->SetNbClipPlanesMax(1);
        made->SetAlphaTest(Standard_False);
        made->AttachShader(Graphic3d_ShaderObject::CreateFromSource(Graphic3d_TOS_VERTEX, at_nodes));
        made->AttachShader(Graphic3d_ShaderObject::CreateFromSource(Graphic3d_TOS_FRAGMENT, in_between));
        return made;
    }();
    return program;
}

} // namespace kervo::scene
