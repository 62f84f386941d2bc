package sqlcall

import "strings"

// IsBuiltIn reports whether a name without a schema is that of a function,
// operator or clause that some dialect has built in, so that name(…) is no call
// of a stored routine.
func IsBuiltIn(name string) bool { return builtIns[strings.ToLower(name)] }

// builtIns holds the built-in functions of the dialects' manuals, and the words
// that may stand before a bracket.
var builtIns = wordSet(`
	abs acos add_months adddate addtime aes_decrypt aes_encrypt age all any any_value approx_count_distinct array array_agg array_append array_cat
	array_construct array_contains array_dims array_length array_lower array_position array_prepend array_remove array_replace array_size array_slice array_to_json
	array_to_string array_upper arrayagg as ascii ascii_char ascii_val asin atan atan2 atn2 avg base64 base64_decode_string base64_encode between bfilename bin bin_and bin_or bin_shl bin_shr
	bin_to_uuid bin_xor binary binary_checksum bit_and bit_count bit_length bit_or bit_xor bitand bitor bitxor blob bool_and bool_or boolor_agg brin btrim by bytea cardinality case
	cast cast_to_number cbrt ceil ceiling char char_length char_to_uuid character character_length charindex check checksum checksum_agg choose chr clob clock_timestamp coalesce coercibility collate
	collect collation column column_value columns compress concat concat_ws concatenate connection_id constraint containing contains containstable conv convert convert_timezone convert_tz copysign corr cos cosh cot count
	count_big count_if covar_pop covar_samp crc32 cume_dist cross crypt_gen_random cube cume cumulative current_database current_date current_schema current_schemas current_setting current_time
	current_timestamp current_user currval cursor_status curdate curtime database databasepropertyex datalength date date_add date_bin date_diff date_format date_from_parts date_part date_sub date_trunc
	dateadd datediff datediff_big datefromparts datename datepart datetime datetime2 datetime2fromparts datetimefromparts datetimeoffset day dayname dayofmonth dayofweek dayofyear days
	days_between db_id db_name dbtimezone decfloat decimal decode decompose decompress default degrees dense_rank deref difference digits div double dump elt empty_blob empty_clob enable encode encrypt
	encryptbykey end enum eomonth error_line error_message error_number error_procedure error_severity error_state event every except exec execute exists exp exportset export_set extract extractvalue
	factorial field filter find_in_set first_day first_value flatten float floor for foreign format format_type formatmessage found_rows freetext freetexttable from from_base64
	from_days from_tz from_unixtime fulltext gcd gen_id gen_random_uuid gen_uuid generate_series generate_subscripts generate_union generator getansinull getbit getdate getutcdate get_bit get_byte get_ddl get_format get_lock get_path
	global goto greatest group group_concat grouping grouping_id grouping_sets gtid_subset has_dbaccess has_table_privilege hash hash_encode hashbytes having hex hex_decode hex_encode hextoraw host_name hour hours iff ident_current ident_incr
	ident_seed identity identity_val_local if ifnull iif in in_list index index_col indexkey_property inet_aton inet_ntoa inet6_aton inet6_ntoa initcap inner inout insert inserting instr int integer intersect
	interval into intnat is is_free_lock is_ipv4 is_ipv6 is_member is_null_value is_rolemember is_used_lock is_uuid isdate isfinite isjson isnull isnumeric join json json_agg json_array json_array_elements
	json_array_elements_text json_array_length json_arrayagg json_build_array json_build_object json_contains json_contains_path json_depth json_each json_each_text json_exists json_extract
	json_extract_path json_extract_path_text json_extract_path_text json_insert json_keys json_length json_merge json_merge_patch json_merge_preserve json_modify json_object json_object_agg json_object_keys json_objectagg json_overlaps
	json_populate_record json_populate_recordset json_pretty json_query json_quote json_remove json_replace json_schema_valid json_search json_serialize json_set json_strip_nulls json_table json_textcontains json_to_record json_to_recordset json_type json_typeof json_unquote
	json_valid json_value jsonb jsonb_agg jsonb_array_elements jsonb_array_elements_text jsonb_array_length jsonb_build_array jsonb_build_object jsonb_each jsonb_each_text jsonb_extract_path
	jsonb_extract_path_text jsonb_insert jsonb_object_agg jsonb_object_keys jsonb_path_exists jsonb_path_match jsonb_path_query jsonb_path_query_array jsonb_path_query_first jsonb_populate_record jsonb_populate_recordset jsonb_pretty
	jsonb_set jsonb_strip_nulls jsonb_to_record jsonb_to_recordset jsonb_typeof justify_days justify_hours justify_interval key lag last last_day last_identity_id last_insert_id last_value lastval lateral lcase lead least left len length lengthb like listagg ln lnnvl
	load_extension load_file local localtime localtimestamp locate locate_in_string log log10 log2 lower lpad ltrim make_date make_interval make_set make_time make_timestamp make_timestamptz makedate maketime map mask master_pos_wait match max maxvalue md5
	median merge microsecond microseconds mid midnight_seconds min min_active_scn minute minutes mod mode month monthname months_between multiply multiset name_const nanvl national nchar nchr new_time newid
	newsequentialid next next_day nextval nlssort nls_initcap nls_lower nls_upper not now nth_value ntile nullif nullifzero num_nonnulls num_nulls number numeric numrange numtodsinterval numtoyminterval nvarchar nvl nvl2 object_construct
	object_definition object_id object_name object_schema_name objectproperty oct octet_length of offset old_password on open openjson openquery opendatasource openrowset openxml or ora_hash order original_db_name out outer over overlaps overlay parse parse_json parsename partition password
	patindex path percent_rank percentile_cont percentile_disc percentile_approx period period_add period_diff permissions pg_backend_pid pg_sleep pi pivot point polygon position posstr pow power powermultiset precision prediction primary primary_key print
	procedure pwdcompare pwdencrypt qualify quarter query quote quote_ident quote_literal quote_nullable quotename radians raise_error raiseerror raiserror rand random randn range rank ratio_to_report rawtohex real
	recursive ref references reftohex regexp regexp_count regexp_extract regexp_instr regexp_like regexp_match regexp_matches regexp_replace regexp_split_to_array regexp_split_to_table regexp_substr
	regr_slope release_all_locks release_lock repeat replace replicate replicate_ returning reverse right rlike rollup round row row_count row_number row_to_json rowcount_big rowidtochar rowtocolumn rows rpad rsa_private rtrim save schema schema_id schema_name schema_version scope_identity second
	seconds sec_to_time seconds_between select selecting serverproperty session_context session_user sessionproperty sessiontimezone set set_bit set_byte set_config setseed setval sets sha sha1 sha2 sha224 sha256 sha384 sha512 sign signal similar similarity sin sinh sleep smalldatetimefromparts smallint
	some sort soundex sounds space split split_part split_to_table sql_variant_property sqlcode sqlerrm sqrt st_area st_asbinary st_asgeojson st_astext st_buffer st_contains st_distance st_dwithin st_geomfromtext st_intersects st_length st_makepoint st_point
	st_setsrid st_transform st_within st_x st_y starting starts_with statement_timestamp stats_date std stddev stddev_pop stddev_samp stdev stdevp str str_to_date strcmp string string_agg string_escape string_split string_to_array string_to_table strpos strtok strtok_to_array struct_extract
	stuff stuff_ subdate submultiset substr substrb substring substring_index subtime sum suser_id suser_name suser_sid suser_sname switchoffset sys_connect_by_path sys_context sys_extract_utc sys_guid sysdate sysdatetime sysdatetimeoffset systimestamp sysutcdatetime system_user
	table table_ tan tanh temp_table tertiary_weights text textptr then time time_format time_from_parts time_slice time_to_sec timediff timefromparts timeofday timestamp timestamp_diff timestamp_format timestamp_from_parts timestamp_iso timestampadd timestampdiff tinyint
	to_array to_ascii to_base64 to_binary to_bigint to_blob to_boolean to_char to_clob to_date to_dats to_days to_decimal to_double to_dsinterval to_hex to_int to_integer to_json to_jsonb to_lob to_multi_byte to_nchar to_nclob to_number to_numeric to_nvarchar to_object to_seconds to_single_byte to_smallint to_time to_timestamp
	to_timestamp_ltz to_timestamp_ntz to_timestamp_tz to_timestamp_tz to_tsquery to_tsvector to_variant to_varchar to_xml to_yminterval today todatetimeoffset top transaction_timestamp transform translate treat trim trim_array trunc truncate try_cast try_convert try_parse try_parse_json try_to_date try_to_decimal try_to_number try_to_timestamp ts_headline ts_rank txid_current type_id type_name
	typeof typeproperty tzoffset ucase uid uncompress uncompressed_length unhex unicode unicode_to_str unicode_char unicode_val union unique unistr unix_timestamp unnest unpivot updatexml update updating upper upper_ user user_id user_name userenv using utc_date utc_time utc_timestamp uuid
	uuid_generate_v4 uuid_short uuid_string uuid_to_bin uuid_to_char validate_password_strength value values var var_pop var_samp varbinary varbit varchar varchar2 varchar_format variance varp varray verify_group_privileges version view_ vsize wait_for_executed_gtid_set week weekday weekofyear weight_string when where while width_bucket
	window with within work xml xmlagg xmlattributes xmlcast xmlcolattval xmlcomment xmlconcat xmlelement xmlexists xmlforest xmlparse xmlpi xmlquery xmlroot xmlsequence xmlserialize xmltable xmltype xor year years years_between yearweek zeroifnull
	bigint bit boolean char_ character_ cursor date_ decfloat_ float4 float8 geography geometry int2 int4 int8 integer_ intervaldaytosecond money nclob ntext number_ object raw rowid rowversion serial smallmoney sysname text_ timestamptz timetz tsquery tsvector uniqueidentifier variant
	nolock inserted deleted output pragma returns begin return sqlstate handler array_ union_ minus fetch limit lock cluster clustered nonclustered include add drop alter create storage tablespace lob xmldata identity_insert generated always
	and else except_ do table_name dbms_random dual`)
