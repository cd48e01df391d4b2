// What the texts of channels that go after subjects share.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "code/lowering.hpp"

namespace stasis::code {

/// The tracks that poses give a channel: pose and track.
std::vector<std::pair<std::size_t, std::size_t>> tracks_in_poses(const Feel& feel, std::size_t channel);
/// The tracks that cues of takes give it, ascending.
std::vector<std::size_t> tracks_in_cues(const Feel& feel, std::size_t channel);
/// True if what is followed depends on where the camera looks.
bool reads_view(const Follow& follow);
/// The constant of a track.
std::string track_name(const Lowering& to, std::size_t track);
/// What a subject has, by name, such as "place[0]".
std::string of_subject(const Lowering& to, std::size_t track, std::string_view what);
/// An angle of the picture as radians, of the values without shakes; 0 without the channel.
std::string seat_angle(const Lowering& to, const std::optional<std::size_t>& role);
/// Variables `right_0` ... `back_2`: the axes along which the camera looks, of the values without shakes.
void write_view_axes(Lowering& to);
/// The functions `look_after_NAME` and `go_after_NAME` of a channel that follows.
void lower_follow(Lowering& to, std::size_t channel);

} // namespace stasis::code
